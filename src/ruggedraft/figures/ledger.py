"""What each screen's answer costs with a ledger of several years' work, compared with its SQL sent directly."""

import contextlib
import statistics
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from datetime import UTC, date, datetime
from time import perf_counter

from django.db import connection
from django.db.models import Count
from django.test import Client
from django.test.utils import CaptureQueriesContext

from ruggedraft.clearing.acts.sign_clearance import Signing, sign_clearance
from ruggedraft.clearing.cases import Case, active_cards, case
from ruggedraft.clearing.rule_effect import effect_of
from ruggedraft.core.sources import from_ledger
from ruggedraft.core.transfer import FileRead, StoreResult, TransferReport
from ruggedraft.crew.models import Membership, Person, Role
from ruggedraft.intake.models import Card
from ruggedraft.kit.models import Device, Location, Station
from ruggedraft.offloads.acts.finish_offload import finish_offload
from ruggedraft.offloads.models import Offload
from ruggedraft.productions.acts.change_rule import rule_with
from ruggedraft.productions.models import Camera, Plan, Production, RedundancyRule
from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.rolls.recording import Began
from ruggedraft.stores.models import Store

from .measuring import ROUNDS, say, table

ROLLS, FILES, STORES, CARDS, CHECKED, CHECKS = 2_000, 2_500, 12, 300, 8, 100
COPIES, SHORT, IN_READERS = 4, 30, 8
_HERE = "/api/productions/large/"
RUN_FILES = 20_000

_FILL = {
    "cards": """
        INSERT INTO intake_card (label, kind, capacity, camera_id)
        SELECT format('K-%%s', lpad(n::text, 3, '0')), 'SD', 64000000000, %(camera)s FROM generate_series(1, {cards}) n
    """,
    "stays": """
        INSERT INTO intake_reader (station_id, port, name, called, path)
        SELECT %(station)s, n::text, format('slot-%%s', n), '', format('/nowhere/%%s', n)
        FROM generate_series(1, {cards}) n;
        INSERT INTO intake_insertion (reader_id, card_id, serial, kind, volume, capacity, token, inside, levels_up,
          inserted_at, removed_at, trouble)
        SELECT r.id, c.id, 'S' || c.id, 'SD', '', 64000000000, '', 0, 0, now() - interval '1 minute',
          CASE WHEN c.n > {in_readers} THEN now() END, ''
        FROM (SELECT id, row_number() OVER (ORDER BY id) AS n FROM intake_card) c
        JOIN intake_reader r ON r.port = c.n::text;
        INSERT INTO intake_cardlisting (card_id, insertion_id, began_at, confirmed_at, version, compared, depth, layout,
          files, bytes, first_ns, last_ns, digest, bare_folders,
          closed_folders, indexes)
        SELECT i.card_id, i.id, now(), now(), 1, 0, 0, 'stills', {files}, {files} * 9000::bigint, 1, 2,
          md5(i.id::text), '[]', '[]', '{{}}'
        FROM intake_insertion i
    """,
    "rolls": """
        INSERT INTO rolls_roll (production_id, camera_id, card_id, number, tag, shoot_day, opened_at, algorithm,
          fs_serial, version, content)
        SELECT %(production)s, %(camera)s, c.id, n, format('K%%s', lpad(n::text, 4, '0')), '2026-05-14',
          now() - interval '1 day', 'xxh128', '', 0, 0
        FROM generate_series(1, {rolls}) n
        JOIN (SELECT id, row_number() OVER (ORDER BY id) - 1 AS k FROM intake_card) c ON c.k = n %% {cards}
        ORDER BY n;
        INSERT INTO rolls_take (roll_id, listing_id, person_id, at)
        SELECT r.id, l.id, %(person)s, now() FROM rolls_roll r JOIN intake_cardlisting l ON l.card_id = r.card_id
    """,
    "files": """
        INSERT INTO rolls_rollfile (roll_id, take_id, path, size, modified_ns, checksum, fingerprint, kept_as, others)
        SELECT t.roll_id, t.id, format('DCIM/100SKERR/SKR_%%s.JPG', n),
          9000000 + (n * 7919::bigint + r.number * 104729::bigint) %% 20000003,
          (1700000000 + r.number * {files}::bigint + n) * 1000000000, md5(r.id::text || '/' || n),
          left(md5(n || 'f' || r.id), 16), '', '{{}}'
        FROM rolls_take t JOIN rolls_roll r ON r.id = t.roll_id, generate_series(1, {files}) n
    """,
    "names of files": """
        INSERT INTO rolls_filename (file_id, roll_id, names)
        SELECT id, roll_id, lower(substring(path from '[^/]*$') || ' ') FROM rolls_rollfile;
        INSERT INTO rolls_rollnamed (roll_id, content) SELECT id, content FROM rolls_roll
    """,
    "what is on the cards": """
        INSERT INTO intake_listedentry (listing_id, path, kind, size, modified_ns, detail, fingerprint, algorithm,
          checksum)
        SELECT l.id, f.path, 'file', f.size, f.modified_ns, '', f.fingerprint, '', ''
        FROM intake_cardlisting l
        JOIN LATERAL (SELECT id FROM rolls_roll r WHERE r.card_id = l.card_id ORDER BY id DESC LIMIT 1) last ON true
        JOIN rolls_rollfile f ON f.roll_id = last.id
    """,
    "what was on them before": """
        INSERT INTO intake_gonefile (card_id, seen_id, missed_id, path, size, modified_ns, fingerprint)
        SELECT r.card_id, l.id, l.id, f.path, f.size, f.modified_ns, f.fingerprint
        FROM rolls_roll r JOIN intake_cardlisting l ON l.card_id = r.card_id
        JOIN rolls_rollfile f ON f.roll_id = r.id
        WHERE EXISTS (SELECT FROM rolls_roll later WHERE later.card_id = r.card_id AND later.id > r.id)
    """,
    "copies": """
        INSERT INTO rolls_copy (roll_id, store_id, folder)
        SELECT r.id, s.id, r.tag
        FROM (SELECT *, row_number() OVER (ORDER BY id) AS n FROM rolls_roll) r
        JOIN (SELECT id, row_number() OVER (ORDER BY id) - 1 AS k FROM stores_store) s
          ON (s.k - r.n + {stores} * {rolls}) %% {stores} < CASE WHEN r.n <= {short} THEN 1 ELSE {copies} END;
        INSERT INTO rolls_copylook (copy_id, began_at) SELECT id, now() + interval '1 hour' FROM rolls_copy;
        INSERT INTO rolls_reading (copy_id, origin, began_at, noted_at, after, level, all_but, until, agreed_files,
          agreed_bytes)
        SELECT c.id, 'offload', now(), now(), 0, 3, true, t.id, {files}, 1
        FROM rolls_copy c JOIN rolls_take t ON t.roll_id = c.roll_id;
        INSERT INTO rolls_reading (copy_id, origin, began_at, noted_at, after, level, all_but, until, agreed_files,
          agreed_bytes)
        SELECT c.id, 'check', now(), now(), 0, 3, true, t.id, {files}, 1
        FROM (SELECT * FROM rolls_copy ORDER BY id DESC LIMIT {checked}) c JOIN rolls_take t ON t.roll_id = c.roll_id,
          generate_series(1, {checks}) n
    """,
}


@dataclass(frozen=True)
class _Measured:
    """seconds: the median. bare: of the same SQL alone; None where that says nothing. aim: seconds"""

    what: str
    seconds: float
    bare: float | None
    queries: int | None
    aim: float


def ledger() -> str:
    """Fill the ledger, measure, and say so as a table."""
    made = _fill()
    say("every summary, once")
    client = Client(headers={"host": "localhost"})
    client.force_login(made.person, backend="django.contrib.auth.backends.ModelBackend")
    for path in ("waterline", "clearing"):
        client.get(f"{_HERE}{path}")
    with connection.cursor() as cursor:  # as the database does by itself after a while
        cursor.execute("ANALYZE")
    measured = [
        _screen(client, "foot line", "waterline", 0.05),
        _screen(client, "a page of Tally", "tally", 0.15),
        _screen(client, "Clearing's first page", "clearing", 0.2),
        _screen(client, "one card's case", f"clearing/cards/{made.card.pk}", 0.03),
        _screen(client, f"Bench, {IN_READERS} cards in", "bench", 0.5),
        _screen(client, "Cards, first page", "cards", 0.4),
        _screen(client, "Find, one name of each of many rolls", "find?text=skr_2371", 0.15),
        _screen(client, "Find, one name of one roll", "find?text=k1234+2371", 0.15),
        _screen(client, "Find, what stands in every name", "find?text=skr", 0.15),
        _screen(client, "Find, what stands in none", "find?text=nowhere", 0.15),
        _screen(client, "what if a drive dies", f"stores/what-if?of=device&name={made.device}", 0.5),
        _act("what another rule would change", lambda n: lambda: _effect(made, n), 1.0),
        _act("sign", _signer(made), 0.25),
        _act(f"note a finished run of {RUN_FILES:,} files", _finisher(made), 0.3),
    ]
    rows = [
        (one.what, f"{one.seconds * 1000:.0f} ms", one.queries or "",
         f"{one.seconds / one.bare:.1f} times {one.bare * 1000:.0f} ms" if one.bare else "", f"{one.aim * 1000:.0f} ms")
        for one in measured
    ]  # fmt: skip
    head = ("what", "median", "queries", "the same SQL alone", "aim")
    words = f"{ROLLS:,} rolls, {ROLLS * FILES:,} files, {STORES} stores, {CARDS} cards"
    words += f", {CHECKED} copies checked {CHECKS} times"
    return f"### A ledger of {words}\n\n{table(head, rows)}"


@dataclass(frozen=True)
class _Made:
    production: Production
    person: Person
    station: Station
    card: Card

    @property
    def device(self) -> str:
        """Of the store that most copies are on."""
        return Device.objects.annotate(copies=Count("stores__copies")).order_by("-copies", "pk")[0].name


def _fill() -> _Made:
    production = Production.objects.create(name="Large", first_day=date(2026, 5, 14))
    RedundancyRule.objects.create(production=production)
    plan = Plan.objects.create(production=production, name="all")
    camera = Camera.objects.create(production=production, letter="K", name="Tern", kind="stills", plan=plan)
    person = Person.objects.create(username="bench")
    Membership.objects.create(person=person, production=production, role=Role.WRANGLER)
    station = Station.objects.create(name="bench")
    places = [Location.objects.create(name=name, offsite=name == "north") for name in ("cart", "north")]
    for n in range(STORES):
        device = Device.objects.create(name=f"D{n}", medium="ssd", location=places[n % 2])
        store = Store.objects.create(name=f"Store {n}", device=device, identities=[f"d{n}"], path=f"/nowhere/{n}")
        store.sightings.create(station=station, seen_at=datetime.now(UTC), online=True, free=10**12, total=10**13)
    plan.stores.set(Store.objects.all()[:3])
    production.shared_stores.set(Store.objects.all())
    words = {"camera": camera.pk, "production": production.pk, "person": person.pk, "station": station.pk}
    sizes = {
        "cards": CARDS, "files": FILES, "rolls": ROLLS, "stores": STORES, "copies": COPIES, "short": SHORT,
        "checked": CHECKED, "checks": CHECKS, "in_readers": IN_READERS,
    }  # fmt: skip
    with (
        connection.cursor() as cursor,
        _without_indexes("rolls_rollfile", "rolls_filename", "intake_gonefile", "intake_listedentry"),
    ):
        for what, statements in _FILL.items():
            say(f"filling the ledger: {what}")
            for statement in statements.format(**sizes).split(";\n"):
                cursor.execute(statement, words)
    with connection.cursor() as cursor:
        cursor.execute("ANALYZE")
    return _Made(production, person, station, Card.objects.select_related("camera").order_by("pk")[CARDS // 2])


@contextlib.contextmanager
def _without_indexes(*tables: str) -> Iterator[None]:
    """Fill these tables with nothing looking on: their indexes are made afterwards, which is a good deal faster."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT i.indexname, i.indexdef FROM pg_indexes i WHERE i.tablename = ANY(%s) AND NOT EXISTS"
            " (SELECT FROM pg_constraint c WHERE c.conname = i.indexname)",
            [list(tables)],
        )
        indexes = cursor.fetchall()
        for name, _ in indexes:
            cursor.execute(f'DROP INDEX "{name}"')
        cursor.execute("SET session_replication_role = replica")
    yield
    with connection.cursor() as cursor:
        cursor.execute("SET session_replication_role = DEFAULT")
        cursor.execute("SET maintenance_work_mem = '1GB'")
        for name, definition in indexes:
            say(f"making the index {name}")
            cursor.execute(definition)


def _median(act: Callable[[], object], rounds: int = ROUNDS) -> float:
    times = []
    for _ in range(rounds):
        started = perf_counter()
        act()
        times.append(perf_counter() - started)
    return statistics.median(times)


def _screen(client: Client, what: str, path: str, aim: float) -> _Measured:
    say(what)

    def ask() -> None:
        answer = client.get(f"{_HERE}{path}")
        if answer.status_code != 200:
            raise RuntimeError(f"{path} answered {answer.status_code}: this measures something else")

    with CaptureQueriesContext(connection) as asked:
        ask()
    queries = [query["sql"] for query in asked.captured_queries]
    seconds = _median(ask)
    return _Measured(what, seconds, _median(lambda: _send(queries)), len(queries), aim)


def _send(queries: list[str]) -> None:
    with connection.cursor() as cursor:
        for query in queries:
            cursor.execute(query)
            if cursor.description:
                cursor.fetchall()


def _act(what: str, rounds: Callable[[int], Callable[[], object]], aim: float) -> _Measured:
    say(what)
    times = []
    for n in range(ROUNDS):
        act = rounds(n)
        started = perf_counter()
        act()
        times.append(perf_counter() - started)
    return _Measured(what, statistics.median(times), None, None, aim)


def _effect(made: _Made, n: int) -> None:
    production = Production.objects.select_related("rule").get(pk=made.production.pk)
    effect_of(production, rule_with(production, {"copies": 3 + n}))


def _signer(made: _Made) -> Callable[[int], Callable[[], object]]:
    """Each round another card, whose looks are fresh."""
    cards = list(active_cards().filter(insertions__removed_at=None, insertions__isnull=False).distinct())

    def signing(n: int) -> Callable[[], object]:
        card = cards[n]
        judged = case(card)
        sign_clearance(made.person, card, tag=_tag(judged), digest=judged.digest)  # asks for looks
        with connection.cursor() as cursor:
            cursor.execute("UPDATE intake_cardlisting SET began_at = now(), confirmed_at = now()")
            cursor.execute("UPDATE rolls_copylook SET began_at = now()")
        digest = case(card).digest

        def sign() -> None:
            signed = sign_clearance(made.person, card, tag=_tag(judged), digest=digest)
            if signed.state is not Signing.CLEARED:
                raise RuntimeError(f"{card.label} was not cleared: {signed}")

        return sign

    return signing


def _tag(judged: Case) -> str:
    if judged.roll is None:
        raise LookupError(f"nothing of {judged.card.label} was taken: this measures something else")
    return judged.roll.roll.tag


def _finisher(made: _Made) -> Callable[[int], Callable[[], object]]:
    """Each round a new roll of so many files on three stores."""

    def finishing(n: int) -> Callable[[], object]:
        roll, copies = _new_roll(made, n)
        offload = Offload.objects.create(
            kind=Offload.KIND, queue=Offload.QUEUE, subject=f"measured {n}", roll=roll, card=roll.card,
            station=made.station, person=made.person, algorithm="xxh128",
            asked_at=datetime.now(UTC), started_at=datetime.now(UTC),
        )  # fmt: skip
        files = roll.files.values_list("path", "size", "modified_ns")
        read = {
            from_ledger(path): FileRead(size, modified_ns, f"{k:032x}", (), f"{k:016x}")
            for k, (path, size, modified_ns) in enumerate(files)
        }
        report = TransferReport(read, [], [_whole(copy, read) for copy in copies])
        return lambda: finish_offload(offload, report, copies, [], [], began=Began(datetime.now(UTC), 0))

    return finishing


def _whole(copy: Copy, read: Mapping[str, FileRead]) -> StoreResult:
    return StoreResult(copy.store.name, copy.folder, len(read), agreed=set(read), settled=True)


def _new_roll(made: _Made, n: int) -> tuple[Roll, list[Copy]]:
    camera, now = made.card.owner, datetime.now(UTC)
    roll = Roll.objects.create(
        production=made.production, camera=camera, card=made.card, number=ROLLS + 1 + n, tag=f"N{n}",
        shoot_day=now, opened_at=now, algorithm="xxh128",
    )  # fmt: skip
    take = roll.takes.create(listing=made.card.listings.get(), person=made.person, at=now)
    with connection.cursor() as cursor:
        cursor.execute(
            "INSERT INTO rolls_rollfile (roll_id, take_id, path, size, modified_ns, checksum, fingerprint, kept_as,"
            " others) SELECT %s, %s, format('DCIM/%%s.JPG', n), 9, n, '', '', '', '{}' FROM generate_series(1, %s) n",
            [roll.pk, take.pk, RUN_FILES],
        )
    copies = [roll.copies.create(store=store, folder=roll.tag) for store in Store.objects.all()[:3]]
    return roll, copies
