"""Long random stretches of work, and after every act: does any screen say of card, copy or roll what is not so?

Every endpoint that makes a statement is asked, and each statement is compared with an oracle that looks at bytes.
"""

import contextlib
import os
import random
import tempfile
from collections.abc import Iterator, Sequence
from pathlib import Path
from unittest.mock import patch

from django.test import TestCase

from ruggedraft.clearing import card_rows
from ruggedraft.core.evidence import Result
from ruggedraft.core.redundancy import FileFact
from ruggedraft.core.stores.sftp import SftpAddress, SftpSecret
from ruggedraft.core.stores.webdav import WebdavAddress, WebdavSecret
from ruggedraft.intake.watching import look
from ruggedraft.rolls import summaries
from ruggedraft.rolls.models import Copy
from ruggedraft.standins import card_maker as make
from ruggedraft.standins.sftp_server import SftpServer
from ruggedraft.standins.webdav_server import PASSWORD, USER, WebdavServer
from ruggedraft.stores import servers
from ruggedraft.stores.acts.introduce_server import introduce_server
from ruggedraft.stores.models import Store

from .judging import Judging
from .oracle import SERVED, same_but_other
from .world import SHOT

LONG = bool(os.environ.get("RAFT_LONG"))
SEEDS, STEPS = (range(50), 100) if LONG else (range(4, 8), 50)
if os.environ.get("RAFT_WALK"):  # some seeds alone, as "10-19"
    _first, _, _last = os.environ["RAFT_WALK"].partition("-")
    SEEDS = range(int(_first), int(_last or _first) + 1)


WEIGHTS = (
    ("offload", 13), ("offload_a_part", 3), ("shoot", 4), ("shoot_over", 1), ("shoot_in_the_slot", 1),
    ("put_in_again", 3), ("take_out", 1), ("format", 1), ("format_and_shoot_the_same_names", 1), ("rewrite_one", 1),
    ("erase_one", 1), ("put_in_the_twin", 1), ("shift_the_zone", 0.5), ("pause_and_resume", 1), ("cancel", 1.5),
    ("pull_in_the_middle", 1.5), ("check_one", 3), ("check_beside_an_offload", 1), ("rot_in_silence", 1.5),
    ("bring_a_roll", 2), ("cut_a_file", 1), ("delete_a_file", 1), ("delete_a_copy", 0.5), ("rename_from_now_on", 0.7),
    ("other_algorithm", 0.7), ("lose_a_drive", 0.7), ("find_a_drive", 1), ("use_drives_that_are_there", 1),
    ("waive_what_was_left", 2), ("waive_one", 0.7), ("answer_for_what_is_gone", 7), ("hold_and_lift", 0.7),
    ("change_the_rule", 0.7), ("jump_the_clock", 0.7), ("sign_it", 10), ("deliver_or_take_back", 0.7), ("revoke", 0.5),
    ("refuse_to_sign", 0.3), ("set_aside_and_use_again", 0.4), ("ask_otherwise", 0.5), ("open_a_clip", 0.3),
    ("choose", 1), ("move_a_copy", 0.7), ("look_for_rolls_and_adopt", 1.5), ("order_or_withdraw", 1),
    ("care_otherwise", 1),
    ("keep_up_by_itself", 4), ("retire_or_use_again", 0.5), ("land_or_not", 0.7), ("make_room", 1.2),
)  # fmt: skip


def walk(case: Judging, acts: Sequence[tuple[str, float]], seeds: Sequence[int], steps: int) -> None:
    """Random acts, and after each of them every screen is asked."""
    names, weights = zip(*acts, strict=True)
    seen: dict[str, int] = {}
    for seed in seeds:
        with _a_fresh_world(case), case.subTest(seed=seed):
            case.chance = random.Random(seed)
            case.done = []
            for _ in range(steps):
                act = case.chance.choices(names, weights)[0]
                case.done.append(act)
                getattr(case, act)()
                standing = case.judge()
                seen[standing] = seen.get(standing, 0) + 1
    good = sum(seen.get(standing, 0) for standing in ("ready to sign", "cleared", "handed back"))
    case.assertGreater(good, len(seeds), f"the work got somewhere: {seen}")
    case.assertGreater(seen.get("not clear", 0), len(seeds), f"and was in doubt at times: {seen}")


@contextlib.contextmanager
def _a_fresh_world(case: Judging) -> Iterator[None]:
    """Each stretch begins with empty drives and an empty ledger."""
    try:
        yield
    finally:
        case.end_of_a_walk()
        case.doCleanups()
        case._fixture_teardown()
        case._fixture_setup()
        case.setUp()


class NeverWrong(Judging, TestCase):
    seeds = SEEDS[::2]

    def test_whatever_happens_no_screen_says_what_is_not_so(self):
        if not self.seeds:
            self.skipTest("walked by the other half")
        walk(self, WEIGHTS, self.seeds, STEPS)


class NeverWrongElsewhere(NeverWrong):
    """The other half of the stretches, so that two processors share them."""

    seeds = SEEDS[1::2]


class NeverWrongOnAServer(Judging, TestCase):
    """The same with a store on a real SFTP server, which goes away and comes back, and cuts off whom it serves."""

    seeds = SEEDS if os.environ.get("RAFT_WALK") else range(100, 120) if LONG else range(100, 102)
    steps = 100 if LONG else 40

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.home = tempfile.TemporaryDirectory()
        cls.addClassCleanup(cls.home.cleanup)
        cls.server = SftpServer(Path(cls.home.name)).start()
        cls.addClassCleanup(cls.server.stop)

    def setUp(self):
        super().setUp()
        self.addCleanup(servers.forget_lines)
        folder = self.base / "rolls"
        folder.mkdir()
        server = self.server
        introduce_server(
            self.sol, self.production.pk, name="array", medium="array", location=self.office, device_name="array",
            reason="in the office",
            address=SftpAddress("127.0.0.1", server.port, server.user, str(folder), server.host_key),
            secret=SftpSecret(server.client_key),
        )  # fmt: skip
        self.plan.stores.set(Store.objects.filter(name__in=("one", "array")))
        look(self.station)

    def copies(self) -> list[Copy]:
        """While the server is away nothing happens to what is on it: nobody could know."""
        return [one for one in super().copies() if not self.away or one.store.name != "array"]

    away = False

    def server_goes_or_comes(self) -> None:
        if self.away:
            self.server.start()
        else:
            self.server.stop()
        self.away = not self.away
        look(self.station)

    def cut_off_in_the_middle(self) -> None:
        """Whoever is being served loses the connection; the server itself is there."""
        self.server.stop()
        self.server.start()
        self.away = False

    def test_whatever_happens_no_screen_says_what_is_not_so(self):
        walk(self, (*WEIGHTS, ("server_goes_or_comes", 3), ("cut_off_in_the_middle", 2)), self.seeds, self.steps)

    def end_of_a_walk(self) -> None:
        if self.away:
            self.server.start()
            self.away = False


class NeverWrongOnWebdav(NeverWrongOnAServer):
    """And with one on a real WebDAV server."""

    seeds = SEEDS if os.environ.get("RAFT_WALK") else range(200, 220) if LONG else range(200, 201)

    def setUp(self):
        Judging.setUp(self)
        self.addCleanup(servers.forget_lines)
        self.addCleanup(SERVED.clear)
        self.home = self.base / "webdav"
        self.served = WebdavServer(self.home).start()
        self.addCleanup(lambda: self.served.stop())
        (self.served.folder / "rolls").mkdir()
        SERVED["array"] = self.served.folder / "rolls"
        introduce_server(
            self.sol, self.production.pk, name="array", medium="array", location=self.office, device_name="array",
            reason="in the office",
            address=WebdavAddress(f"{self.served.url}/rolls"), secret=WebdavSecret(USER, PASSWORD),
        )  # fmt: skip
        self.plan.stores.set(Store.objects.filter(name__in=("one", "array")))
        look(self.station)

    def server_goes_or_comes(self) -> None:
        if self.away:
            self.start_again()
        else:
            self.served.stop()
        self.away = not self.away
        look(self.station)

    def cut_off_in_the_middle(self) -> None:
        self.served.stop()
        self.start_again()
        self.away = False

    def start_again(self) -> None:
        self.served = WebdavServer(self.home, port=self.served.port).start()

    def end_of_a_walk(self) -> None:
        self.away = False


class Planted(Judging, TestCase):
    """Faults of the kind that once were there, put back one at a time: the same judge finds each."""

    def caught(self, *acts: str, looking: bool = True) -> None:
        """looking: the station looks at copies before the judge asks, which alone would find some of these"""
        self.done = []
        with self.assertRaises(AssertionError, msg=f"nobody noticed after {acts}"):
            for act in acts:
                self.done.append(act)
                getattr(self, act)()
                self.judge() if looking else self.compare()

    def test_without_a_fault_none_of_these_stories_is_wrong(self):
        for story in self.STORIES:
            with self.subTest(story):
                self.done = []
                for act in story:
                    self.done.append(act)
                    getattr(self, act)()
                    self.judge()

    STORIES = (
        ("offload", "delete_a_file", "sign_it"),
        ("offload", "rot_in_silence", "check_all", "sign_it"),
        ("answer_for_what_is_gone", "format", "answer_for_what_is_gone", "shoot", "offload", "sign_it"),
        ("offload", "sign_it", "format_and_shoot_the_same_names", "offload", "sign_it"),
    )

    def check_all(self) -> None:
        for copy in self.copies():
            self.check_copy(copy)

    def lose_the_second(self) -> None:
        self.post("stores/two/lost", {"reason": "overboard"})

    def use_two_folders_of_one_drive(self) -> None:
        self.plan.stores.set(Store.objects.filter(name__in=["one", "twin"]))

    def test_1_damage_that_a_reading_found_is_forgotten(self):
        with patch.object(Result, "bad", property(lambda result: False)):
            self.caught("offload", "rot_in_silence", "check_all")

    def test_2_a_reading_mends_what_was_found_after_it_began(self):
        real = Copy.readings.rel.related_model.objects.create

        def unordered(**words):
            return real(**{**words, "after": 10**9})

        with patch.object(Copy.readings.rel.related_model.objects, "create", unordered):
            self.caught("offload", "check_beside_the_first")

    def check_beside_the_first(self) -> None:
        copy = self.copies()[0]
        file = self.files_of(copy)[0]

        def rot_and_find():
            file.write_bytes(b"rotten" * 3)
            self.look_at_everything()

        self.check_copy(copy, meanwhile=rot_and_find)

    def test_3_the_same_name_size_and_time_pass_for_the_same_file(self):
        with patch.object(FileFact, "is_surely", FileFact.is_like):
            self.caught("shoot", "offload", "format_and_shoot_the_same_names", "sign_it")

    def test_4_two_folders_of_one_drive_pass_for_two_devices(self):
        by_name = "ruggedraft.core.redundancy.verdict.device_groups"
        with (
            patch(by_name, lambda stores: [store.name for store in stores]),
            patch("ruggedraft.core.preflight.device_groups", lambda stores: [store.name for store in stores]),
        ):
            self.caught("use_two_folders_of_one_drive", "offload", "sign_it")

    def test_5_files_that_are_gone_from_a_card_are_no_news(self):
        with (
            patch("ruggedraft.clearing.cases.unanswered_of", lambda cards, said: {}),
            patch("ruggedraft.offloads.situations.unanswered", lambda cards: {}),
        ):
            self.caught("shoot", "format")

    def test_6_a_lost_drive_counts(self):
        with patch("ruggedraft.stores.queries.is_lost", lambda store: False):
            self.caught("offload", "lose_the_second")

    def test_7_looks_see_nothing(self):
        with patch("ruggedraft.rolls.recording._wrong", lambda *words: None):
            self.caught("offload", "delete_a_copy", "sign_it")

    def test_8_half_a_card_makes_a_whole_copy(self):
        from ruggedraft.rolls import recording

        real = recording.record_reading

        def everything(copy, began, *, agreed, **words):
            every = set(copy.roll.files.exclude(checksum="").values_list("path", flat=True))
            copy.roll.files.filter(checksum="").update(checksum="x", fingerprint="x")
            every |= set(copy.roll.files.values_list("path", flat=True))
            return real(copy, began, agreed=every, **words | {"files": None})

        with patch("ruggedraft.offloads.acts.finish_offload.record_reading", everything):
            self.caught("shoot", "shoot", "pull_at_once", looking=False)

    def pull_at_once(self) -> None:
        with patch.object(self.chance, "randint", lambda least, most: 0):
            self.pull_in_the_middle()

    def test_9_a_waiver_is_for_whatever_has_the_name(self):
        with patch(
            "ruggedraft.core.redundancy.cover._is_among",
            lambda entry, files: entry.path in {path for path, _ in files},
        ):
            self.caught("offload", "shoot_and_waive_one", "rewrite_the_last", "sign_it")

    def shoot_and_waive_one(self) -> None:
        self.count += 1
        make.add_file(self.card_folder, "DCIM/100SKERR/WAIVED.JPG", b"waived" * 9, SHOT)
        self.put_in_again()
        (one,) = (one for one in self.oracle.files(self.here) if "WAIVED" in one[0])
        self.post(f"clearing/cards/{self.card.pk}/waive", {"path": one[0], "reason": "no"})
        self.oracle.shown_waived.add(one)

    def rewrite_the_last(self) -> None:
        same_but_other(self.card_folder / "DCIM/100SKERR/WAIVED.JPG")
        self.put_in_again()

    def test_10_signing_rests_on_no_look(self):
        with patch("ruggedraft.clearing.acts.sign_clearance.signing_blocks", lambda *words, **more: ()):
            self.caught("offload", "shoot_in_the_slot", "sign_without_looking")

    def sign_without_looking(self) -> None:
        case = self.standing()
        words = {"tag": case["tag"], "digest": case["digest"]}
        answer = self.post(f"clearing/cards/{self.card.pk}/sign", words)
        if answer.status_code == 200 and answer.json()["cleared"]:
            self.wrong_if(self.oracle.in_danger(self.here), "cleared")

    def test_11_a_summary_of_a_roll_is_believed_whatever_was_noted_since(self):
        believed = summaries._TOLD.replace("AND s.version = rolls_roll.version", "")
        believed = believed.replace("AND t.version = rolls_roll.version", "")
        with patch.object(summaries, "_TOLD", believed):
            self.caught("offload", "rot_in_silence", "check_all")

    def test_12_a_summary_of_a_card_is_believed_whatever_was_noted_since(self):
        with patch.object(card_rows, "_NOTED", card_rows._NOTED.replace("AND s.key = k.key", "")):
            self.caught("offload", "shoot")
