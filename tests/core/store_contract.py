"""What every kind of store must do. A new kind inherits this and gives `make_store` and `content_of`."""

import os
from pathlib import Path

from ruggedraft.core.errors import Conflict, FileRefused, UnsafePath
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.stores import Store
from ruggedraft.core.stores.port import ToRead, Whole

T = 1_700_000_000_123_456_789


def _files_open() -> int:
    """How many files this process holds open. Sockets and pipes do not count: a server in here opens its own."""
    return sum(_leads_to(n).startswith("/") for n in os.listdir("/proc/self/fd"))


def _leads_to(descriptor: str) -> str:
    try:
        return str(Path(f"/proc/self/fd/{descriptor}").readlink())
    except FileNotFoundError:  # closed since it was listed
        return ""


class StoreContract:
    def make_store(self) -> Store:
        raise NotImplementedError

    def content_of(self, path: str) -> bytes | None:
        """What is really under that path, looked up past the store."""
        raise NotImplementedError

    def setUp(self):
        self.store = self.make_store()
        self.store.open()
        self.addCleanup(self.store.close)

    def put(self, path: str, content: bytes, **words) -> None:
        pending = self.store.write(path)
        pending.write(content[:3])
        pending.write(memoryview(content)[3:])
        pending.end(T)
        (error,) = self.store.commit([pending], **words)
        if error:
            raise error

    def test_a_file_is_there_whole_after_commit_and_not_before(self):
        pending = self.store.write("roll/DCIM/a.jpg")
        pending.write(b"abc")
        self.assertIsNone(self.content_of("roll/DCIM/a.jpg"))
        self.assertIsNone(self.store.found("roll/DCIM/a.jpg"))
        pending.end(T)
        self.assertIsNone(self.content_of("roll/DCIM/a.jpg"))
        self.assertEqual(self.store.commit([pending]), [None])
        self.assertEqual(self.content_of("roll/DCIM/a.jpg"), b"abc")
        self.assertEqual(self.store.found("roll/DCIM/a.jpg").size, 3)

    def test_a_discarded_file_leaves_nothing(self):
        pending = self.store.write("roll/a")
        pending.write(b"abc")
        pending.discard()
        pending.discard()
        self.assertIsNone(self.content_of("roll/a"))

    def test_nothing_is_overwritten_unless_that_is_asked(self):
        self.put("roll/a", b"first")
        with self.assertRaises(Conflict):
            self.put("roll/a", b"second")
        self.assertEqual(self.content_of("roll/a"), b"first")
        self.put("roll/a", b"third", replace=True)
        self.assertEqual(self.content_of("roll/a"), b"third")

    def test_read_back_gives_every_byte_and_says_how_good_that_is(self):
        content = bytes(range(256)) * 5000
        self.put("roll/big", content)
        self.put("roll/empty", b"")
        for path, expected in (("roll/big", content), ("roll/empty", b"")):
            held = bytearray()
            self.assertEqual(self.store.read_back(path, held.extend), Evidence.READ_BACK)
            self.assertEqual(bytes(held), expected)

    def test_a_file_with_holes_has_zeros_there(self):
        pending = self.store.write("roll/sparse", 3 << 20)
        pending.skip(1 << 20)
        pending.write(memoryview(b"x" * 4096))
        pending.skip(5000)
        pending.end(T)
        self.assertEqual(self.store.commit([pending]), [None])
        self.assertEqual(self.content_of("roll/sparse"), bytes(1 << 20) + b"x" * 4096 + bytes(5000))

    def test_small_files_many_at_a_time(self):
        contents = {f"roll/{n % 3}/{n}": bytes([n]) * n * 7 for n in range(100)}
        files = [Whole(path, memoryview(content), T, 0o640) for path, content in contents.items()]
        written = self.store.write_whole(files)
        self.assertTrue(all(self.content_of(path) is None for path in contents), "no name before it is committed")
        self.assertEqual(self.store.commit(written), [None] * 100)
        for path, content in contents.items():
            self.assertEqual(self.content_of(path), content)
        held = {}
        paths = [*contents, "roll/none"]
        wanted = [ToRead(path, len(contents.get(path, b""))) for path in paths]
        *levels, missing = self.store.read_back_small(wanted, lambda n, data: held.update({paths[n]: bytes(data)}))
        self.assertEqual((set(levels), held), ({Evidence.READ_BACK}, contents))
        self.assertIsInstance(missing, FileRefused)
        again = self.store.commit(self.store.write_whole(files[:2]))
        self.assertTrue(all(isinstance(error, Conflict) for error in again), "and nothing is overwritten")

    def test_a_file_that_is_longer_than_it_should_be_is_read_to_its_end(self):
        """Its beginning alone agrees with what was written, and must not pass for the file."""
        self.put("roll/grown", content := b"as written, and then something was added")
        for size in (0, 10):
            with self.subTest(size):
                held = {}
                wanted = [ToRead("roll/grown", size)]
                self.store.read_back_small(wanted, lambda n, data, held=held: held.update({n: bytes(data)}))
                self.assertEqual(held, {0: content})

    def test_one_that_is_far_longer_fills_no_memory_and_differs(self):
        self.put("roll/grown", content := bytes(range(256)) * (12 << 12))
        held = {}
        self.store.read_back_small([ToRead("roll/grown", 10)], lambda n, data: held.update({n: bytes(data)}))
        self.assertTrue(10 < len(held[0]) < len(content))

    def test_who_has_had_enough_ends_the_reading(self):
        for n in range(100):
            self.put(f"roll/{n:03}", b"x" * n)
        seen = []

        def enough(n, data) -> None:
            seen.append(n)
            raise KeyError("enough")

        for _ in range(2):  # what stays open for the whole run is open by the second time
            before = _files_open()
            with self.assertRaises(KeyError):
                self.store.read_back_small([ToRead(f"roll/{n:03}", n) for n in range(100)], enough)
        self.assertEqual(seen, [0, 0])
        self.assertLessEqual(_files_open(), before)

    def test_reading_back_what_is_missing_is_refused(self):
        with self.assertRaises(FileRefused):
            self.store.read_back("roll/none", bytearray().extend)

    def test_paths_that_lead_out_are_refused(self):
        for path in ("../x", "/etc/x", "a/../x", "a//b", "", "a/\0"):
            with self.subTest(path), self.assertRaises(UnsafePath):
                self.store.write(path)

    def test_withdrawn_is_gone(self):
        self.put("roll/a", b"bad")
        self.store.withdraw("roll/a")
        self.assertIsNone(self.content_of("roll/a"))

    def test_to_tidy_takes_away_nothing_that_holds_something(self):
        for path in ("roll/DCIM/100/a", "roll/DCIM/200/b", "roll/c", "rolls/d"):
            self.put(path, b"x")
        for path in ("roll/DCIM/100/a", "roll/c"):
            self.store.withdraw(path)
        self.store.tidy("roll")
        self.assertEqual([self.content_of(one) for one in ("roll/DCIM/200/b", "rolls/d")], [b"x", b"x"])
        self.store.withdraw("roll/DCIM/200/b")
        self.store.tidy("roll")
        self.store.tidy("roll")
        self.assertEqual(dict(self.store.look("roll")), {})
        self.assertEqual(self.content_of("rolls/d"), b"x")

    def test_a_look_tells_of_a_folder_and_of_the_whole_store(self):
        self.put("2026/roll/DCIM/a.jpg", b"abc")
        self.put("2026/roll/b", b"")
        self.put("2026/roller/c", b"c")

        def sizes(folder: str) -> dict[str, int]:
            return {path: facts[0] for path, facts in self.store.look(folder).items() if not path.startswith(".raft")}

        self.assertEqual(sizes("2026/roll"), {"DCIM/a.jpg": 3, "b": 0})
        self.assertEqual(sizes(""), {"2026/roll/DCIM/a.jpg": 3, "2026/roll/b": 0, "2026/roller/c": 1})
        self.assertEqual(sizes("2026/rol"), {})

    def test_room_is_told(self):
        room = self.store.room()
        self.assertGreater(room.total, 0)
        self.assertLessEqual(room.free, room.total)
