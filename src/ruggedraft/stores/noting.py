"""What a station on another machine tells of the drives that are plugged in there."""

from collections.abc import Container, Iterable
from dataclasses import asdict
from typing import Any

from ruggedraft.kit.models import Station

from .volumes import Volume

_ROUGHLY = 10**8
"""Bytes by which free room must change to be told again."""


def note_volumes(station: Station, seen: Iterable[Volume], cards: Container[str]) -> None:
    """Tell the ledger what is plugged in there now, where that has changed. cards: paths of what is said to be one"""
    rows = [_row(volume) | {"card": volume.path in cards} for volume in seen]
    if [_without_jitter(row) for row in rows] != [_without_jitter(row) for row in station.plugged_in]:
        station.plugged_in = rows
        Station.objects.filter(pk=station.pk).update(plugged_in=rows)


def volumes_of(station: Station) -> tuple[list[Volume], set[str]]:
    """As it told them last, and the paths of those that are said to be cards."""
    cards = {row["path"] for row in station.plugged_in if row["card"]}
    return [_volume({name: row[name] for name in row if name != "card"}) for row in station.plugged_in], cards


def _row(volume: Volume) -> dict[str, Any]:
    return {**asdict(volume), "devices": sorted(volume.devices), "shares_with": list(volume.shares_with)}


def _volume(row: dict[str, Any]) -> Volume:
    return Volume(**row | {"devices": frozenset(row["devices"]), "shares_with": tuple(row["shares_with"])})


def _without_jitter(row: dict[str, Any]) -> dict[str, Any]:
    return {**row, "free": row["free"] // _ROUGHLY}
