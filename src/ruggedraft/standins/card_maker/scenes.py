"""Pictures of the scenario's shoot: an old paddle barge in the mud of a creek, people with ropes, weather, light by the
hour. Drawn, not photographed: the same arguments give the same picture."""

import hashlib
import math
import random
from datetime import datetime

from PIL import Image, ImageDraw

_Colour = tuple[int, int, int]
_LIGHT: tuple[tuple[int, _Colour, _Colour], ...] = (
    (0, (18, 24, 40), (40, 46, 62)),
    (5, (64, 66, 96), (214, 150, 128)),
    (7, (138, 160, 182), (236, 208, 176)),
    (10, (128, 164, 192), (206, 216, 216)),
    (14, (144, 166, 178), (212, 212, 200)),
    (17, (150, 142, 140), (240, 190, 118)),
    (19, (70, 64, 92), (206, 118, 86)),
    (21, (22, 28, 46), (52, 52, 66)),
)
"""Sky above and at the horizon, from each hour on."""
_JACKETS: tuple[_Colour, ...] = ((226, 106, 28), (236, 190, 40), (44, 92, 120), (150, 40, 36), (84, 104, 60))
_SHOTS = ("wide", "wide", "hull", "paddle", "crew", "ropes")


class Scene:
    """One picture under the pencil. Places are shares of its width and height."""

    def __init__(self, words: str, size: tuple[int, int], moment: datetime | None) -> None:
        seed = int.from_bytes(hashlib.sha256(words.encode()).digest()[:4], "big")
        self.rng = random.Random(seed)  # noqa: S311  a picture, not a secret
        self.width, self.height = size
        self.image = Image.new("RGB", size)
        self.pencil = ImageDraw.Draw(self.image)
        self.hour = moment.hour + moment.minute / 60 if moment else self.rng.uniform(6, 20)
        self.weather = self.rng.choice(("clear", "overcast", "drizzle", "mist"))
        self.high, self.low = _sky(self.hour, self.weather)
        self.horizon = self.rng.uniform(0.3, 0.46)

    def at(self, x: float, y: float) -> tuple[float, float]:
        return x * self.width, y * self.height

    def shape(self, points: list[tuple[float, float]], fill: _Colour) -> None:
        self.pencil.polygon([self.at(x, y) for x, y in points], fill=fill)

    def line(self, points: list[tuple[float, float]], fill: _Colour, thick: float) -> None:
        width = max(1, round(thick * self.height))
        self.pencil.line([self.at(x, y) for x, y in points], fill=fill, width=width, joint="curve")

    def lit(self, colour: _Colour, share: float = 0.3) -> _Colour:
        """A colour in the light of the hour."""
        return _mixed(colour, self.low, share)


def draw(words: str, size: tuple[int, int], moment: datetime | None = None) -> Image.Image:
    """words: name the picture; another name is another picture. moment: lights it."""
    scene = Scene(words, size, moment)
    shot = scene.rng.choice(_SHOTS)
    _sky_and_shore(scene)
    _water(scene)
    _mud(scene)
    if shot == "paddle":
        _wheel(scene, 0.5, 0.55, 0.42)
    elif shot == "ropes":
        _ropes(scene, 7)
    else:
        scale = {"wide": 0.42, "hull": 0.95, "crew": 0.3}[shot]
        _barge(scene, scene.rng.uniform(0.12, 0.4), scene.horizon + 0.12, scale)
    for n in range({"wide": 4, "hull": 2, "paddle": 1, "crew": 6, "ropes": 3}[shot]):
        _person(scene, scene.rng.uniform(0.08, 0.92), scene.rng.uniform(0.7, 0.95), 0.3 if shot == "crew" else 0.17, n)
    if shot in ("wide", "crew"):
        _ropes(scene, 2)
    _weather(scene)
    return scene.image


def _sky(hour: float, weather: str) -> tuple[_Colour, _Colour]:
    later = next((n for n, (begins, _, _) in enumerate(_LIGHT) if begins > hour), len(_LIGHT))
    (begins, high, low), (until, high_next, low_next) = _LIGHT[later - 1], (*_LIGHT, (24, *_LIGHT[0][1:]))[later]
    share = (hour - begins) / (until - begins)
    grey = (150, 154, 156)
    dull = 0.0 if weather == "clear" else 0.45
    return _mixed(_mixed(high, high_next, share), grey, dull), _mixed(_mixed(low, low_next, share), grey, dull)


def _mixed(one: _Colour, other: _Colour, share: float) -> _Colour:
    red, green, blue = (round(a + (b - a) * share) for a, b in zip(one, other, strict=True))
    return red, green, blue


def _sky_and_shore(scene: Scene) -> None:
    rows = 48
    for n in range(rows):
        top, bottom = scene.horizon * n / rows, scene.horizon * (n + 1) / rows + 0.01
        scene.shape([(0, top), (1, top), (1, bottom), (0, bottom)], _mixed(scene.high, scene.low, n / rows))
    for depth, dark in ((0.07, 0.35), (0.04, 0.6)):
        points = [(0.0, scene.horizon + 0.02)]
        x = 0.0
        while x < 1:
            points.append((x, scene.horizon - scene.rng.uniform(0.2, 1) * depth))
            x += scene.rng.uniform(0.04, 0.14)
        scene.shape(
            [*points, (1.0, scene.horizon - 0.3 * depth), (1.0, scene.horizon + 0.02)],
            _mixed(scene.low, (44, 56, 50), dark),
        )


def _water(scene: Scene) -> None:
    deep = _mixed(scene.high, (46, 66, 70), 0.55)
    scene.shape([(0, scene.horizon), (1, scene.horizon), (1, 0.9), (0, 0.9)], deep)
    for _ in range(90):
        y = scene.horizon + scene.rng.random() ** 2 * 0.35
        x, length = scene.rng.random(), scene.rng.uniform(0.01, 0.09) * (y - scene.horizon + 0.15) * 3
        scene.line([(x, y), (x + length, y)], _mixed(deep, scene.low, scene.rng.uniform(0.3, 0.9)), 0.003)


def _mud(scene: Scene) -> None:
    mud = scene.lit((92, 76, 60), 0.18)
    edge = scene.rng.uniform(0.66, 0.8)
    points = [
        (n / 24, edge + 0.03 * math.sin(n * 0.9 + scene.rng.uniform(0, 1)) + 0.012 * scene.rng.random())
        for n in range(25)
    ]
    scene.shape([*points, (1, 1), (0, 1)], mud)
    for _ in range(26):
        x, y = scene.rng.random(), scene.rng.uniform(edge + 0.05, 1)
        size = scene.rng.uniform(0.01, 0.06) * (y - edge + 0.1) * 3
        box = [*scene.at(x, y), *scene.at(x + size * 1.6, y + size * 0.35)]
        scene.pencil.ellipse(box, fill=_mixed(mud, scene.low, scene.rng.choice((0.1, 0.22, 0.6))))


def _barge(scene: Scene, left: float, top: float, scale: float) -> None:
    """The Marrow Hen: a flat hull that lists a little, a house, a funnel, a wheel at her side."""
    list_ = scene.rng.uniform(-0.06, 0.06)

    def at(x: float, y: float) -> tuple[float, float]:
        return left + scale * x, top + scale * (y * 0.75 + list_ * x)

    hull, trim = scene.lit((34, 44, 40), 0.12), scene.lit((150, 60, 44), 0.15)
    house = scene.lit((206, 196, 168), 0.3)
    scene.shape([at(0, 0), at(1.25, 0), at(1.18, 0.3), at(0.1, 0.32)], hull)
    scene.line([at(0.0, 0.02), at(1.25, 0.02)], trim, 0.02 * scale)
    for n in range(7):
        scene.line([at(0.12 + 0.16 * n, 0.04), at(0.13 + 0.158 * n, 0.28)], _mixed(hull, (0, 0, 0), 0.4), 0.004 * scale)
    scene.shape([at(0.3, 0), at(0.3, -0.26), at(0.78, -0.26), at(0.78, 0)], house)
    for n in range(3):
        x = 0.36 + 0.14 * n
        scene.shape(
            [at(x, -0.19), at(x + 0.08, -0.19), at(x + 0.08, -0.08), at(x, -0.08)], scene.lit((40, 52, 60), 0.1)
        )
    scene.shape([at(0.86, 0), at(0.86, -0.5), at(0.94, -0.5), at(0.94, 0)], scene.lit((52, 50, 48), 0.1))
    scene.shape([at(0.85, -0.42), at(0.95, -0.42), at(0.95, -0.36), at(0.85, -0.36)], trim)
    x, y = at(0.55, 0.12)
    _wheel(scene, x, y, 0.2 * scale)


def _wheel(scene: Scene, x: float, y: float, radius: float) -> None:
    round_, iron, wood = scene.height / scene.width, scene.lit((60, 56, 52), 0.1), scene.lit((126, 92, 58), 0.15)
    turn = scene.rng.uniform(0, 1)
    for n in range(12):
        angle = (n + turn) * math.pi / 6
        end = (x + radius * round_ * math.cos(angle), y + radius * math.sin(angle))
        scene.line([(x, y), end], iron, 0.035 * radius)
        side = (0.16 * radius * round_ * math.sin(angle), -0.16 * radius * math.cos(angle))
        scene.line([(end[0] - side[0], end[1] - side[1]), (end[0] + side[0], end[1] + side[1])], wood, 0.12 * radius)
    for share in (0.62, 0.95):
        box = [
            *scene.at(x - share * radius * round_, y - share * radius),
            *scene.at(x + share * radius * round_, y + share * radius),
        ]
        scene.pencil.ellipse(box, outline=iron, width=max(1, round(0.04 * radius * scene.height)))


def _person(scene: Scene, x: float, feet: float, tall: float, n: int) -> None:
    round_, jacket = scene.height / scene.width, scene.lit(_JACKETS[n % len(_JACKETS)], 0.12)
    lean = scene.rng.uniform(-0.12, 0.12) * tall
    dark, skin = scene.lit((38, 40, 44), 0.1), scene.lit((178, 132, 104), 0.15)
    hip, neck = (x + lean * 0.3, feet - 0.45 * tall), (x + lean, feet - 0.85 * tall)
    for side in (-1, 1):
        scene.line([hip, (x + side * 0.09 * tall * round_, feet)], dark, 0.09 * tall)
    scene.line([hip, neck], jacket, 0.22 * tall)
    reach = scene.rng.uniform(0.1, 0.4) * tall * round_ * scene.rng.choice((-1, 1))
    scene.line([neck, (neck[0] + reach, neck[1] + 0.22 * tall)], jacket, 0.08 * tall)
    head = 0.075 * tall
    box = [*scene.at(neck[0] - head * round_, neck[1] - 2 * head), *scene.at(neck[0] + head * round_, neck[1])]
    scene.pencil.ellipse(box, fill=skin)


def _ropes(scene: Scene, count: int) -> None:
    hemp = scene.lit((196, 168, 116), 0.2)
    for _ in range(count):
        (x0, y0), (x1, y1) = ((scene.rng.uniform(0, 1), scene.rng.uniform(0.35, 0.95)) for _ in range(2))
        sag = scene.rng.uniform(0.02, 0.12)
        points = [
            (x0 + (x1 - x0) * t / 12, y0 + (y1 - y0) * t / 12 + sag * math.sin(math.pi * t / 12)) for t in range(13)
        ]
        scene.line(points, hemp, 0.004 if count < 4 else 0.016)


def _weather(scene: Scene) -> None:
    if scene.weather == "drizzle":
        for _ in range(160):
            x, y = scene.rng.random(), scene.rng.random()
            scene.line([(x, y), (x - 0.006, y + 0.03)], _mixed(scene.low, (255, 255, 255), 0.35), 0.0015)
    elif scene.weather == "mist":
        veil = Image.new("RGB", scene.image.size, scene.low)
        scene.image = Image.blend(scene.image, veil, 0.28)
