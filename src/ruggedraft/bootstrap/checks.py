"""`./raft test`: the checks that need no tests of their own, then every test on a real server and browser."""

import os
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

from . import app, places, postgres, python_env, web_build
from .steps import one_at_a_time, say
from .system_packages import DEMO, SERVE, TEST, install_missing

SHORT_LABELS = {"core", "server", "browser"}


def test(labels: list[str], *, long: bool = False) -> int:
    if labels == ["core"] and not long:
        return _test_core()
    places.make_var()
    with one_at_a_time():
        install_missing(SERVE, DEMO, TEST)
        python_env.ensure(development=True)
        web_build.ensure()
    failed = [] if labels else _failing(_checks())
    with postgres.running() as server:
        env = app.environment(server, "postgres", owner=True) | {"RAFT_TESTING": "1", "RAFT_LONG": "1" if long else ""}
        code = _run_tests(labels, env)
        if not labels:
            failed += _failing([("migrations and API types are current", lambda: _generated_is_current(env))])
    for name in failed:
        say(f"FAILED: {name}")
    return 1 if failed or code else 0


def _failing(checks: list[tuple[str, Callable[[], bool]]]) -> list[str]:
    return [name for name, check in checks if not _passes(name, check)]


def _run_tests(labels: list[str], env: dict[str, str]) -> int:
    dotted = [f"tests.{label}" if label in SHORT_LABELS else label for label in labels or ["tests"]]
    words = [*app.manage_command(), "test", "--parallel", "auto", *dotted]
    return subprocess.run(words, env=env, cwd=places.ROOT).returncode


def _test_core() -> int:
    """The core's tests in their quick form: no database, no browser, every processor, half a minute."""
    places.make_var()
    with one_at_a_time():
        install_missing(DEMO, TEST)
        python_env.ensure(development=True)
    env = {**os.environ, **_quick_environment()}
    words: list[str | Path] = [places.VENV_PYTHON, "-W", "error", "-m", "tests.quick"]
    return subprocess.run(words, env=env, cwd=places.ROOT).returncode


def _checks() -> list[tuple[str, Callable[[], bool]]]:
    bin_ = places.VENV / "bin"
    return [
        ("ruff finds nothing", lambda: _ok([bin_ / "ruff", "check", "."])),
        ("ruff would format nothing", lambda: _ok([bin_ / "ruff", "format", "--check", "."])),
        ("mypy is satisfied (strict)", lambda: _ok([bin_ / "mypy"], **_NO_LEDGER, PYTHONPATH=str(places.SOURCES))),
        ("imports go the right way", lambda: _ok([bin_ / "lint-imports"], PYTHONPATH=str(places.SOURCES))),
        ("the web application type-checks and is tidy", _web_check),
        ("the core's own tests reach nine tenths of its lines and branches", _core_coverage),
    ]


_NO_LEDGER = {"RAFT_DATABASE_URL": "postgresql://nobody@127.0.0.1/nothing", "RAFT_SECRET_KEY": "x" * 50}
"""The settings as mypy's Django plugin needs to read them; nothing is connected to."""


def _core_coverage() -> bool:
    """In the quick form; says the figure."""
    for old in (places.VAR / "coverage").glob("*"):
        old.unlink()
    coverage, env = places.VENV / "bin" / "coverage", _quick_environment()
    (places.VAR / "coverage").mkdir(exist_ok=True)
    if not _ok([coverage, "run", "-m", "tests.quick"], **env) or not _ok([coverage, "combine", "-q"]):
        return False
    told = subprocess.run([coverage, "report", "--format=total"], cwd=places.ROOT, capture_output=True, text=True)
    say(f"     {told.stdout.strip()} % of the core's lines and branches")
    return told.returncode == 0


def _quick_environment() -> dict[str, str]:
    return {"PYTHONPATH": f"{places.SOURCES}:{places.ROOT}", "RAFT_QUICK": "1"}


def _passes(name: str, check: Callable[[], bool]) -> bool:
    passed = check()
    say(f"{'ok' if passed else 'FAILED'}: {name}")
    return passed


def _ok(command: list[object], **env: str) -> bool:
    environment = {**os.environ, **env}
    words = [str(word) for word in command]
    done = subprocess.run(words, cwd=places.ROOT, env=environment, capture_output=True, text=True)
    if done.returncode:
        print(done.stdout + done.stderr, file=sys.stderr)
    return done.returncode == 0


def _web_check() -> bool:
    found, env = web_build.environment()
    done = subprocess.run(
        [*found.npm, "run", "--silent", "check"], cwd=places.WEB, env=env, capture_output=True, text=True
    )
    if done.returncode:
        print(done.stdout + done.stderr, file=sys.stderr)
    return done.returncode == 0


def _generated_is_current(env: dict[str, str]) -> bool:
    """No model without its migration; `openapi.json` is what the API says, `schema.d.ts` what follows from it."""
    manage = app.manage_command()
    drift = subprocess.run([*manage, "makemigrations", "--check", "--dry-run"], env=env, capture_output=True, text=True)
    schema = subprocess.run([*manage, "api_contract", "--check"], env=env, capture_output=True, text=True)
    types = places.WEB / "src" / "api" / "schema.d.ts"
    fresh = places.VAR / "schema.d.ts"
    found, node_env = web_build.environment()
    words = [*found.npm, "exec", "--", "openapi-typescript", "openapi.json", "-o", str(fresh)]
    subprocess.run(words, cwd=places.WEB, env=node_env, capture_output=True, check=True)
    same = fresh.read_text() == types.read_text()
    for done in (drift, schema):
        if done.returncode:
            print(done.stdout + done.stderr, file=sys.stderr)
    return drift.returncode == 0 and schema.returncode == 0 and same
