"""What pictures cost: making them of large stills and recordings, keeping them, and going on to the next one."""

import io
import subprocess
import tempfile
import time
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from statistics import median
from typing import Any

from django.test import override_settings
from PIL import Image

from ruggedraft.core.cards.media import MediaFacts, MediaKind
from ruggedraft.core.pictures import Made, PictureKind, Place, StillMaker, light_copy, make_pictures, pixels
from ruggedraft.standins.card_maker import media

from .measuring import ROUNDS, say, table
from .screens import chromium, served, sign_in

_MOMENT = datetime(2026, 5, 14, 12, tzinfo=UTC)
_SIZE = (6000, 4000)
_STILLS = 12
_SECONDS = 10
_STILL, _VIDEO = MediaFacts(MediaKind.STILL), MediaFacts(MediaKind.VIDEO, duration_s=_SECONDS, rate="25/1", channels=1)
_LARGE = "[data-opened-picture][src*='/large']"
_NEXT = """
const [css, was, done] = arguments
const began = performance.now()
const look = () => {
  const shown = document.querySelector(css)
  if (shown && shown.src !== was && shown.complete && shown.naturalWidth) done(performance.now() - began)
  else requestAnimationFrame(look)
}
document.querySelector('[data-look-through]').dispatchEvent(
  new KeyboardEvent('keydown', { key: 'ArrowRight', bubbles: true }))
look()
"""


def pictures() -> str:
    """The tables. The second on a database and folders of its own; needs the packages of the tests."""
    say("making stills and a recording")
    stills = [_still(n) for n in range(_STILLS)]
    making = table(("what", "median", "asked"), _making(stills, _recording()))
    return f"### Pictures of stills of {_megabytes(stills)}, and of a recording\n\n{making}\n\n{_going_on(stills)}"


def _still(number: int) -> bytes:
    """A JPEG of 24 million pixels with as much noise as makes about eight megabytes of it."""
    drawn = Image.open(io.BytesIO(media.jpeg(f"tide {number}", _MOMENT, model="Tern", size=_SIZE)))
    noise = Image.effect_noise(_SIZE, 24).convert("RGB")
    out = io.BytesIO()
    Image.blend(drawn.convert("RGB"), noise, 0.35).save(out, "JPEG", quality=90)
    return out.getvalue()


def _megabytes(stills: list[bytes]) -> str:
    return f"{median(map(len, stills)) / 1e6:.1f} MB"


def _recording() -> bytes:
    """Ten seconds of 1920 by 1080 in ProRes 422 with sound."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "a.mov"
        source = (
            "-f",
            "lavfi",
            "-i",
            f"testsrc2=s=1920x1080:r=25:d={_SECONDS}",
            "-f",
            "lavfi",
            "-i",
            f"sine=d={_SECONDS}",
        )
        subprocess.run(["ffmpeg", "-v", "error", *source, "-c:v", "prores_ks", str(path)], check=True)
        return path.read_bytes()


@contextmanager
def _open(content: bytes) -> Iterator[int]:
    with tempfile.TemporaryFile() as file:
        file.write(content)
        file.flush()
        yield file.fileno()


def _making(stills: list[bytes], recording: bytes) -> Iterator[tuple[str, str, str]]:
    taken, small = list[float](), list[int]()
    with StillMaker() as maker:
        for n, content in enumerate(stills * ROUNDS):
            say(f"still {n + 1} of {len(stills) * ROUNDS}")
            with _open(content) as descriptor:
                seconds, made = _timed(descriptor, maker)
            taken.append(seconds)
            small.append(len(made.pictures[PictureKind.SMALL]))
    yield "small and large, a still", _ms(taken), "at most 40 ms"
    yield "100,000 small ones", f"{median(small) * 1e5 / 1e9:.2f} GB", "at most 2 GB"
    with _open(stills[0]) as descriptor:
        yield "a still pixel for pixel", _ms([_pixels(descriptor, "a.JPG", _STILL) for _ in range(ROUNDS)]), ""
    with _open(recording) as descriptor, StillMaker() as maker:
        first = [_timed(descriptor, maker, "a.MOV", _VIDEO)[0] for _ in range(ROUNDS)]
        yield f"first frame, strip and swings, {_SECONDS} s of ProRes", _ms(first), ""
        yield "a frame of it pixel for pixel", _ms([_pixels(descriptor, "a.MOV", _VIDEO) for _ in range(ROUNDS)]), ""
        yield "its light copy", _ms([_lightened(descriptor) for _ in range(ROUNDS)]), ""


def _timed(descriptor: int, maker: StillMaker, name: str = "a.JPG", facts: MediaFacts = _STILL) -> tuple[float, Made]:
    began = time.perf_counter()
    made = make_pictures(descriptor, name, facts, maker)
    taken = time.perf_counter() - began
    if made.note:
        raise RuntimeError(made.note)
    return taken, made


def _pixels(descriptor: int, name: str, facts: MediaFacts) -> float:
    began = time.perf_counter()
    pixels(descriptor, name, facts, Place(0.5, 0.5, 5.02))
    return time.perf_counter() - began


def _lightened(descriptor: int) -> float:
    began = time.perf_counter()
    light_copy(descriptor, _VIDEO)
    return time.perf_counter() - began


def _ms(seconds: list[float]) -> str:
    return f"{median(seconds) * 1000:,.0f} ms"


def _going_on(stills: list[bytes]) -> str:
    with (
        tempfile.TemporaryDirectory(prefix="raft-bench-") as var,
        served(Path(var)) as address,
        override_settings(VAR=Path(var)),
        chromium() as page,
    ):
        sign_in(page, address)
        tag = _offloaded({f"DCIM/100TERNS/TRN_{n:04d}.JPG": content for n, content in enumerate(stills)})
        page.get(f"{address}/{page.current_url.split('/')[3]}/tally/{tag}")
        say("looking through it")
        went = _look_through(page, len(stills))
    head = f"### From one still of {_megabytes(stills)} to the next, in Chromium, an arrow each\n\n"
    rows = [("its large picture is drawn", f"{median(went):,.0f} ms", f"{max(went):,.0f} ms", "at most 100 ms")]
    return head + table(("what", "median", "longest", "asked"), rows)


def _offloaded(files: Mapping[str, bytes]) -> str:
    """A card with these files is offloaded, and pictures of it are made. Returns the roll's tag."""
    from ruggedraft.crew.models import Person
    from ruggedraft.intake.models import Card
    from ruggedraft.offloads.acts.start_offload import start_offload
    from ruggedraft.offloads.models import Offload
    from ruggedraft.offloads.proposal import propose
    from ruggedraft.pictures.models import FileSeen
    from ruggedraft.standins import card_maker, hub

    for slot in hub.SLOTS:
        hub.remove(slot)
    card = next(one for one in hub.cards() if one.label == "A-03")
    for path, content in files.items():
        card_maker.add_file(card.folder, path, content, _MOMENT)
    time.sleep(5)
    hub.insert(card.serial, hub.SLOTS[0])
    time.sleep(10)
    known = Card.objects.select_related("camera__production__rule", "camera__plan").get(label=card.label)
    run = start_offload(Person.objects.get(username="sol"), known, propose(known).tag, uneven=True)
    say("offloading, and making pictures")
    _until(lambda: Offload.objects.filter(pk=run.pk).exclude(finished_at=None).exists())
    _until(lambda: FileSeen.objects.filter(file__roll=run.roll_id).count() >= len(files))
    return run.roll.tag


def _until(holds: Any) -> None:
    until = time.monotonic() + 300
    while not holds():
        if time.monotonic() > until:
            raise TimeoutError("this takes too long")
        time.sleep(0.5)


def _look_through(page: Any, count: int) -> list[float]:
    """Milliseconds for each step; a second passes between them, as somebody looks."""
    _until(lambda: page.find_elements("css selector", "[data-hung] button img"))
    first = next(one for one in page.find_elements("css selector", "[data-hung] button") if ".JPG" in _label(one))
    page.execute_script("arguments[0].click()", first)
    _until(lambda: page.find_elements("css selector", _LARGE))
    went = []
    for _ in range(count - 1):
        time.sleep(1)
        was = page.find_element("css selector", _LARGE).get_property("src")
        went.append(float(page.execute_async_script(_NEXT, _LARGE, was)))
    return went


def _label(button: Any) -> str:
    return str(button.get_attribute("aria-label"))
