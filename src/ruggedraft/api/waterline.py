"""The line that never leaves the screen: what is not safe yet."""

from django.http import HttpRequest
from ninja import Router, Schema

from ruggedraft.clearing.waterline import waterline as current_waterline
from ruggedraft.journal.clock import now

from .current import production

router = Router(tags=["waterline"])


class WaterlineOut(Schema):
    production: str
    time_zone: str
    day: int
    cards_waiting: list[str]
    bytes_short: int
    rolls_short: list[str]
    rolls_below: list[str]
    runs: int


@router.get("", response=WaterlineOut)
def waterline(request: HttpRequest) -> WaterlineOut:
    current = production()
    line = current_waterline(current)
    today = current.shoot_day(now())
    return WaterlineOut(
        production=current.name,
        time_zone=current.time_zone,
        day=(today - current.first_day).days + 1,
        cards_waiting=list(line.cards_waiting),
        bytes_short=line.bytes_short,
        rolls_short=list(line.rolls_short),
        rolls_below=list(line.rolls_below),
        runs=line.runs,
    )
