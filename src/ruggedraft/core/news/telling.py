"""Who is told in which way, and when."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, time, timedelta
from enum import StrEnum

from .happenings import GRAVE, NewsKind


class Way(StrEnum):
    """How somebody is told, besides finding it on the page."""

    SOUND = "sound"
    BROWSER = "browser notification"
    MAIL = "e-mail"


Choices = Mapping[NewsKind, Sequence[Way]]
DEFAULT_CHOICES: Choices = {
    kind: [Way.SOUND, Way.BROWSER] if kind in GRAVE or kind is NewsKind.FREE else [] for kind in NewsKind
}


def ways_of(choices: Choices, kind: NewsKind) -> Sequence[Way]:
    """What somebody chose of a kind; as everybody has it where they chose nothing."""
    return choices.get(kind, DEFAULT_CHOICES[kind])


@dataclass(frozen=True)
class Quiet:
    """Hours in which somebody is sent nothing, by their production's clock; equal hours: there are none."""

    begins: int
    ends: int

    def until(self, local: datetime) -> datetime | None:
        """When the quiet that holds at this moment ends; None where it does not hold.

        >>> Quiet(22, 6).until(datetime(2026, 5, 14, 23)), Quiet(22, 6).until(datetime(2026, 5, 14, 7))
        (datetime.datetime(2026, 5, 15, 6, 0), None)
        """
        inside = self.begins <= local.hour < self.ends
        if self.begins > self.ends:
            inside = local.hour >= self.begins or local.hour < self.ends
        if not inside:
            return None
        end = datetime.combine(local.date(), time(self.ends), local.tzinfo)
        return end if end > local else end + timedelta(days=1)


_PATIENCE = (10, 60, 300, 1800, 7200, 21600, 43200)
"""Seconds between one try and the next."""


def next_try(tries: int) -> timedelta | None:
    """How long to wait after so many tries that failed; None: it is given up.

    >>> next_try(1), next_try(8)
    (datetime.timedelta(seconds=10), None)
    """
    return timedelta(seconds=_PATIENCE[tries - 1]) if 1 <= tries <= len(_PATIENCE) else None
