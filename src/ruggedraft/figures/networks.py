"""A card to a server and proven there, against what a careful person would type. On loopback: no line is measured."""

import gc
import os
import random
import shlex
import shutil
import subprocess
import tempfile
from collections.abc import Callable, Iterable, Mapping, Sequence
from contextlib import ExitStack
from pathlib import Path

from ruggedraft.core.evidence import Evidence
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.sources import FolderSource, list_card
from ruggedraft.core.stores.objects import ObjectsAddress, ObjectsSecret, ObjectsStore, objects_client
from ruggedraft.core.stores.port import Store
from ruggedraft.core.stores.remote import MARK
from ruggedraft.core.stores.sftp import SftpAddress, SftpLine, SftpSecret, SftpStore
from ruggedraft.core.transfer import Target, transfer
from ruggedraft.standins.bucket_server import ACCESS_KEY, SECRET_KEY, Storage
from ruggedraft.standins.sftp_server import SftpServer

from .measuring import in_turns, say, table

ROUNDS = 3
_MIB = 1 << 20
_READ, _ATTESTED = "ours, read back", "ours, attested"
"""What is proven by reading over the network, and by the server's own word: each other is compared with its like."""
_BUCKET = "bench"
_KINDS: Mapping[str, Callable[[int], Iterable[int]]] = {
    "2 large files, 1 GiB": lambda share: [512 * _MIB // share] * 2,
    "5,000 stills of 100 to 400 kB": lambda share: _stills(5000 // share),
}


def _stills(count: int) -> Iterable[int]:
    chance = random.Random(1)  # noqa: S311 - the same card every time
    return (chance.randint(100_000, 400_000) for _ in range(count))


def networks() -> str:
    """The table. Needs rsync and rclone, which nothing else here does. RAFT_BENCH_MEMORY names a folder to fill."""
    missing = [program for program in ("rsync", "rclone", "xxhsum", "sftp") if not shutil.which(program)]
    if missing:
        raise SystemExit(f"raft bench networks: {', '.join(missing)} must be installed (Debian's packages)")
    rows: list[tuple[str, ...]] = []
    memory = os.environ.get("RAFT_BENCH_MEMORY", "/dev/shm")  # noqa: S108
    with tempfile.TemporaryDirectory(prefix="raft-bench-", dir=memory) as base, ExitStack() as closing:
        server = SftpServer(Path(base) / "sshd").start()
        closing.callback(server.stop)
        storage = Storage(Path(base)).start()
        closing.callback(storage.stop)
        for name, sizes in _KINDS.items():
            card = _card(Path(base) / f"card{len(rows)}", sizes(1))
            rows += _rows("SFTP", name, _sftp_acts(card, Path(base) / "kept", server))
            small = _card(Path(base) / f"small{len(rows)}", sizes(4))
            rows += _rows("bucket (a quarter of it)", name, _bucket_acts(small, storage))
    head = ("where", "card", "with", "seconds", "ours, proven alike, to it")
    return "### A card to a server, and proven there\n\n" + table(head, rows)


def _rows(where: str, name: str, acts: Mapping[str, Callable[[], object]]) -> Sequence[tuple[str, ...]]:
    taken = in_turns(acts, rounds=ROUNDS, before=gc.collect)
    rows = []
    for act, seconds in taken.items():
        ours = taken[_READ if act == _READ or "--download" in act else _ATTESTED]
        rows.append((where, name, act, f"{seconds:.1f}", f"{ours / seconds:.2f}"))
    for row in rows:
        say(" | ".join(row))
    return rows


def _card(folder: Path, sizes: Iterable[int]) -> Path:
    """With a checksum list beside it, which the others compare with, given to them for nothing."""
    for n, size in enumerate(sizes):
        path = folder / "card" / f"DCIM/{100 + n // 500}AAAAA/AAAA{n:05d}.JPG"
        path.parent.mkdir(parents=True, exist_ok=True)
        with path.open("wb") as file:
            for start in range(0, size, 16 * _MIB):
                noise = random.Random(n * 1000 + start)  # noqa: S311
                file.write(noise.randbytes(min(16 * _MIB, size - start)))
    _shell("find card -type f -print0 | xargs -0 xxhsum -H2 > list.xxh128", folder)
    return folder


def _shell(words: str, folder: Path) -> None:
    env = {name: value for name, value in os.environ.items() if not name.startswith("AWS_")}
    done = subprocess.run(["bash", "-o", "pipefail", "-ec", words], cwd=folder, env=env, capture_output=True, text=True)
    if done.returncode:
        raise SystemExit(f"raft bench: {words.split()[0]} failed: {done.stderr[-300:]}")


def _prove(card: Path, store: Store, proof: Evidence) -> None:
    source = FolderSource(card / "card")
    (result,) = transfer(source, list_card(source), [Target(store, "card")], algorithm_named("xxh128")).stores
    if result.failed or result.level < proof:
        raise SystemExit(f"raft bench: not everything was proven: {result.failed[:3]}")


def _sftp_acts(card: Path, kept: Path, server: SftpServer) -> dict[str, Callable[[], object]]:
    ssh = f"-o StrictHostKeyChecking=no -o UserKnownHostsFile=/dev/null -o LogLevel=ERROR -i {server.home}/client_key"
    at = f"{server.user}@{server.address}"
    over = f"ssh -p {server.port} {ssh}"
    remote = (
        f"--sftp-host {server.address} --sftp-port {server.port} --sftp-user {server.user} "
        f"--sftp-key-file {server.home}/client_key"
    )
    home = shlex.quote(str(kept))

    def fresh() -> None:
        shutil.rmtree(kept, ignore_errors=True)
        kept.mkdir()
        (kept / MARK).write_text("bench")

    def typed(words: str) -> Callable[[], None]:
        def act() -> None:
            fresh()
            _shell(words, card)

        return act

    def ours(proof: Evidence) -> None:
        fresh()
        address = SftpAddress(server.address, server.port, server.user, str(kept), server.host_key)
        line = SftpLine(address, SftpSecret(server.client_key))
        _prove(card, SftpStore("bench", line, "bench", attests=proof is Evidence.ATTESTED), proof)

    return {
        _ATTESTED: lambda: ours(Evidence.ATTESTED),
        _READ: lambda: ours(Evidence.READ_BACK),
        "`sftp`, then `xxhsum -c` on the server": typed(
            f"printf 'put -r card {home}/\\nput list.xxh128 {home}/\\n' | sftp -q -b - -P {server.port} {ssh} {at}"
            f" && {over} {at} 'cd {home} && xxhsum -c --quiet list.xxh128'"
        ),
        "`rsync`, then `rsync --checksum`": typed(
            f"rsync -a -e {shlex.quote(over)} card {at}:{home}/"
            f' && test -z "$(rsync -anc -i -e {shlex.quote(over)} card {at}:{home}/)"'
        ),
        "`rclone copy`, then `rclone check --download`": typed(
            f"rclone copy card :sftp:{home}/card {remote} --transfers 8 --sftp-disable-hashcheck"
            f" && rclone check card :sftp:{home}/card {remote} --download --checkers 8"
        ),
    }


def _bucket_acts(card: Path, storage: Storage) -> dict[str, Callable[[], object]]:
    address = ObjectsAddress(storage.endpoint, "us-east-1", _BUCKET)
    client = objects_client(address, ObjectsSecret(ACCESS_KEY, SECRET_KEY))
    remote = (
        f"--s3-provider Other --s3-endpoint {storage.endpoint} --s3-access-key-id {ACCESS_KEY} "
        f"--s3-secret-access-key {SECRET_KEY} --s3-region us-east-1 --s3-no-check-bucket"
    )

    def fresh() -> None:
        if _BUCKET not in {one["Name"] for one in client.list_buckets()["Buckets"]}:
            client.create_bucket(Bucket=_BUCKET)
        while held := client.list_objects_v2(Bucket=_BUCKET).get("Contents"):
            client.delete_objects(Bucket=_BUCKET, Delete={"Objects": [{"Key": one["Key"]} for one in held]})
        client.put_object(Bucket=_BUCKET, Key=MARK, Body=b"bench")

    def ours(proof: Evidence) -> None:
        attests = proof is Evidence.ATTESTED
        _prove(card, ObjectsStore("bench", client, address, "bench", attests=attests), proof)

    def rclone(more: str) -> None:
        _shell(
            f"rclone copy card :s3:{_BUCKET}/card {remote} --transfers 8 --sftp-disable-hashcheck"
            f" && rclone check card :s3:{_BUCKET}/card {remote} {more} --checkers 8",
            card,
        )

    def on_a_fresh_one(act: Callable[[], None]) -> Callable[[], None]:
        def whole() -> None:
            fresh()
            act()

        return whole

    return {
        _ATTESTED: on_a_fresh_one(lambda: ours(Evidence.ATTESTED)),
        _READ: on_a_fresh_one(lambda: ours(Evidence.READ_BACK)),
        "`rclone copy`, then `rclone check`": on_a_fresh_one(lambda: rclone("")),
        "`rclone copy`, then `rclone check --download`": on_a_fresh_one(lambda: rclone("--download")),
    }
