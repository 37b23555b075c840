"""`./raft verify`: re-read the files of any checksum list, bag, ASC MHL history or package; or check a certificate."""

import argparse
import json
import sys
from pathlib import Path
from typing import TYPE_CHECKING

from ruggedraft.core.errors import MalformedList, RaftError, why
from ruggedraft.core.hashing import ALGORITHMS
from ruggedraft.core.wording import counted

from .speaking import printable

if TYPE_CHECKING:
    from ruggedraft.core.manifests import ListReport

AGREES, DISAGREES, NOTHING_DONE = 0, 1, 2


def _options() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="raft verify",
        description="Read again, past the caches, every file a checksum list names, relative to the list's folder; or"
        " every file of a folder that is a bag (RFC 8493) or has an ASC MHL history, or of a package (.tar). Or check a"
        " certificate.",
    )
    parser.add_argument("list", type=Path, metavar="LIST")
    parser.add_argument("--hash", choices=list(ALGORITHMS), help="where neither the list nor its name tells")
    parser.add_argument("--strict", action="store_true", help="files the list does not name are findings too")
    parser.add_argument(
        "--cached", action="store_true",
        help="be content with what this machine has in memory, where the medium cannot be read past it",
    )  # fmt: skip
    parser.add_argument("--json", action="store_true", help="print one object on standard output")
    parser.add_argument("--key", default="", metavar="FINGERPRINT",
                        help="of a certificate: the production's, as it stands on its papers")  # fmt: skip
    parser.add_argument("--revoked", type=Path, metavar="FILE",
                        help="of a certificate: the production's list of what was revoked")  # fmt: skip
    return parser


def main(words: list[str]) -> int:
    """What is imported here and below is not needed to say what the command does."""
    options = _options().parse_args(words)
    from .certificate import certificate_checked, is_certificate

    try:
        if is_certificate(options.list):
            return certificate_checked(options.list, options.key, options.revoked, as_json=options.json)
        report = _verified(options.list, options.hash, strict=options.strict)
    except OSError as error:
        print(
            f"raft verify: {options.list} cannot be read ({why(error)}). Nothing was checked.",
            file=sys.stderr,
        )
        return NOTHING_DONE
    except RaftError as error:
        print(f"raft verify: {printable(error.sentence)}", file=sys.stderr)
        return NOTHING_DONE
    _say(report, as_json=options.json)
    believed = report.verified or (options.cached and not report.findings)
    return AGREES if believed else DISAGREES


def _say(report: "ListReport", *, as_json: bool) -> None:
    for finding in report.findings:
        print(f"{finding.kind.upper()}: {printable(finding.path)}: {finding.reason}", file=sys.stderr)
    agreed = counted(report.agreed, "file agrees", "files agree")
    print(f"{agreed} ({report.algorithm}), {counted(len(report.findings), 'finding')}", file=sys.stderr)
    if report.cached:
        print(_cached_words(report), file=sys.stderr)
    if as_json:
        findings = [{"path": f.path, "kind": f.kind, "reason": f.reason} for f in report.findings]
        told = {
            "hash": report.algorithm,
            "agreed": report.agreed,
            "bytes": report.bytes,
            "cached": report.cached,
            "findings": findings,
        }
        print(json.dumps(told))


def _verified(path: Path, asked: str | None, *, strict: bool) -> "ListReport":
    """Raises RaftError, OSError."""
    from ruggedraft.core.manifests import is_bag, verify_bag, verify_list
    from ruggedraft.core.manifests.mhl import has_history, verify_history
    from ruggedraft.core.packages import ENDING, verify_package

    if path.is_dir():
        if is_bag(path):
            return verify_bag(path)
        if has_history(path):
            return verify_history(path)
        raise MalformedList(f"{path} is a folder with neither a bag nor an ASC MHL history: nothing was checked.")
    if path.name.endswith(ENDING):
        return verify_package(path)
    return verify_list(path, asked=asked, strict=strict)


def _cached_words(report: "ListReport") -> str:
    which = "nothing was" if report.cached == report.agreed else f"{report.cached} of {report.agreed} files were not"
    return (
        f"raft verify: {which} read from the medium: this machine holds the files in its memory and does not let go of "
        "them (so it is with folders in memory, files locked there, and some network and user-space file systems). "
        "What the medium holds is not known; --cached is content with that."
    )
