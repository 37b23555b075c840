"""How long the eye waits: first paint, going from place to place, cards that come and go; in Chromium, on the demo."""

import contextlib
import gzip
import os
import socket
import subprocess
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from statistics import median
from typing import Any

from ruggedraft.bootstrap import app, places

from .measuring import ROUNDS, say, table

_SIGN_IN = ("wren", "marrow-hen")
_PLACES = {
    "tally": "[data-roll]",
    "clearing": "[data-card]",
    "log": "ol li",
    "setup": "[data-example]",
    "": "[data-slot]",
}
_CARD, _SLOT, _SEEN_IN = "SKS02000", "slot-4", "[data-slot='slot 4'][data-standing]"

_WHEN_SEEN = """
const seen = () => document.querySelector("[data-slot]")
new MutationObserver((_, watch) => {
  if (!seen()) return
  watch.disconnect()
  requestAnimationFrame(() => (window.raftSeen = performance.now()))
}).observe(document, { childList: true, subtree: true })
"""
_UNTIL = """
const [act, css, gone, done] = arguments
const started = performance.now()
const look = () => {
  if (Boolean(document.querySelector(css)) !== gone) done(performance.now() - started)
  else if (performance.now() - started > 30000) done(NaN)
  else requestAnimationFrame(look)
}
new Function(act)()
look()
"""
_POST = """
const token = document.cookie.split('; ').find((one) => one.startsWith('csrftoken=')).slice(10)
const headers = { 'Content-Type': 'application/json', 'X-CSRFToken': token }
fetch('%s', { method: 'POST', headers, body: %s })
"""


def screens() -> str:
    """The table. On a database and folders of its own; needs the packages of the tests."""
    with tempfile.TemporaryDirectory(prefix="raft-bench-") as var, served(Path(var)) as address, chromium() as page:
        sign_in(page, address)
        slug = page.current_url.split("/")[3]
        first = [_first_paint(page, f"{address}/{slug}/") for _ in range(ROUNDS)]
        scripts = page.execute_script("return performance.getEntriesByType('resource').map((one) => one.name)")
        say("going from place to place")
        gone = [_go(page, slug, place) for _ in range(ROUNDS) for place in _PLACES]
        say("cards in and out")
        come_and_gone = [_come_and_go(page) for _ in range(ROUNDS)]
    rows = [
        ("first meaningful paint, nothing cached", _ms(median(first)), "at most 1,000 ms"),
        ("from place to place, loaded before", _ms(median(gone[len(_PLACES) :])), "at most 200 ms"),
        ("the same the first time", _ms(median(gone[: len(_PLACES)])), ""),
        ("card in, seen", _ms(median(one for one, _ in come_and_gone)), "at most 1,000 ms"),
        ("card out, seen", _ms(median(other for _, other in come_and_gone)), "at most 1,000 ms"),
        ("scripts before the first paint, compressed", f"{_compressed(scripts) / 1000:.0f} kB", "at most 250 kB"),
    ]
    return f"### Screens, medians of {ROUNDS}\n\n" + table(("what", "median", "asked"), rows)


def _ms(milliseconds: float) -> str:
    return f"{milliseconds:,.0f} ms"


@contextlib.contextmanager
def served(var: Path, **station: str) -> Iterator[str]:
    """Web server and station with the demo's data; the address. station: more of its environment"""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    env = {**os.environ, "RAFT_STANDINS": "1", "RAFT_VAR": str(var)}
    say("making the demo's data")
    subprocess.run([*app.manage_command(), "prepare", "--demo"], env=env, check=True)
    web = ["-m", "uvicorn", "ruggedraft.project.asgi:application", "--port", str(port), "--log-level", "warning"]
    running = [
        subprocess.Popen([str(places.VENV_PYTHON), *web], env=env),
        subprocess.Popen([*app.manage_command(), "station", app.STATION], env={**env, **station}),
    ]
    try:
        _wait_for(f"http://127.0.0.1:{port}/")
        yield f"http://127.0.0.1:{port}"
    finally:
        for one in running:
            one.terminate()
        for one in running:
            try:
                one.wait(10)
            except subprocess.TimeoutExpired:  # a page is open still
                one.kill()
                one.wait()


def _wait_for(address: str) -> None:
    until = time.monotonic() + 60
    while True:
        try:
            urllib.request.urlopen(address).close()  # noqa: S310  our own
            return
        except OSError:
            if time.monotonic() > until:
                raise
            time.sleep(0.2)


@contextlib.contextmanager
def chromium() -> Iterator[Any]:
    """A page of its own."""
    from selenium import webdriver

    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    for flag in ("--headless", "--no-sandbox", "--disable-gpu", "--disable-dev-shm-usage", "--window-size=1280,800"):
        options.add_argument(flag)
    page = webdriver.Chrome(options=options, service=webdriver.ChromeService("/usr/bin/chromedriver"))
    try:
        page.set_script_timeout(60)
        yield page
    finally:
        page.quit()


def sign_in(page: Any, address: str) -> None:
    """And wait until the Bench is drawn."""
    page.get(address)
    _wait_to_see(page, "input[type=password]")
    name, password = page.find_elements("css selector", "input")[:2]
    name.send_keys(_SIGN_IN[0])
    password.send_keys(_SIGN_IN[1])
    password.submit()
    _wait_to_see(page, "[data-slot]")
    page.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": _WHEN_SEEN})


def _wait_to_see(page: Any, css: str) -> None:
    """Also where the page is loaded anew meanwhile."""
    until = time.monotonic() + 60
    while not page.find_elements("css selector", css):
        if time.monotonic() > until:
            raise TimeoutError(f"{css} does not appear")
        time.sleep(0.1)


def _first_paint(page: Any, address: str) -> float:
    """Milliseconds from asking for the page until its slots are drawn."""
    say("first paint")
    page.execute_cdp_cmd("Network.clearBrowserCache", {})
    page.get(address)
    _until(page, "", "[data-slot]")
    time.sleep(0.5)
    return float(page.execute_script("return window.raftSeen"))


def _go(page: Any, slug: str, place: str) -> float:
    return _until(page, f"document.querySelector(\"nav a[href='/{slug}/{place}']\").click()", _PLACES[place])


def _come_and_go(page: Any) -> tuple[float, float]:
    body = f"JSON.stringify({{ serial: '{_CARD}', slot: '{_SLOT}' }})"
    come = _until(page, _POST % ("/api/standins/insert", body), _SEEN_IN)
    time.sleep(2)
    went = _until(page, _POST % (f"/api/standins/remove/{_SLOT}", "null"), _SEEN_IN, gone=True)
    time.sleep(1)
    return come, went


def _until(page: Any, act: str, css: str, *, gone: bool = False) -> float:
    """Milliseconds from doing something until what matches is drawn, or gone."""
    return float(page.execute_async_script(_UNTIL, act, css, gone))


def _compressed(addresses: list[str]) -> int:
    """Bytes of the scripts among these addresses, as gzip makes them."""
    names = {address.rpartition("/")[2] for address in addresses if address.endswith(".js")}
    built = places.ROOT / "web" / "dist" / "assets"
    return sum(len(gzip.compress((built / name).read_bytes())) for name in names)
