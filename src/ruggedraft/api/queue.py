"""Runs that wait or are under way at a station, and what changes their order."""

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router, Schema

from ruggedraft.intake.acts.set_unattended import set_unattended
from ruggedraft.intake.models import Reader
from ruggedraft.kit.models import Station
from ruggedraft.offloads.acts.hold_back_offload import hold_back_offload
from ruggedraft.offloads.acts.order_offloads import order_offloads
from ruggedraft.offloads.models import Offload
from ruggedraft.offloads.queue import StationQueue, station_queue

from .current import production
from .shapes import CameraOut, Done, Problem

router = Router(tags=["bench"])
REFUSED = {403: Problem, 409: Problem}


class QueuedOut(Schema):
    """A run. free_in_s: seconds until its card is free, null while it is paused."""

    id: int
    tag: str
    label: str
    camera: CameraOut
    running: bool
    paused: bool
    cancelling: bool
    free_in_s: float | None


class QueueOut(Schema):
    """In the order in which they go. best: ids of the waiting ones in an order that frees cards sooner, if any."""

    station: str
    runs: list[QueuedOut]
    best: list[int]

    @staticmethod
    def of(queue: StationQueue) -> "QueueOut":
        return QueueOut(
            station=queue.station.name,
            best=list(queue.best),
            runs=[
                QueuedOut(
                    id=one.offload.pk,
                    tag=one.offload.roll.tag,
                    label=one.offload.card.label,
                    camera=CameraOut.of(one.offload.roll.camera),
                    running=one.running,
                    paused=one.offload.held_back,
                    cancelling=one.offload.cancel_asked_at is not None,
                    free_in_s=one.free_in_s,
                )
                for one in queue.queued
            ],
        )


class OrderIn(Schema):
    ids: list[int]


class UnattendedIn(Schema):
    """plan: the name of the only plan whose cards go by themselves, null for any."""

    on: bool
    plan: str | None = None


@router.get("/queue", response=list[QueueOut])
def queue(request: HttpRequest) -> list[QueueOut]:
    return [QueueOut.of(station_queue(station)) for station in Station.objects.order_by("name")]


@router.put("/queue/{station}", response={200: Done, **REFUSED})
def reorder(request: HttpRequest, station: str, given: OrderIn) -> Done:
    order_offloads(request.user, get_object_or_404(Station, name=station), given.ids)
    return Done()


@router.post("/offloads/{offload_id}/pause", response={200: Done, **REFUSED})
def pause(request: HttpRequest, offload_id: int) -> Done:
    hold_back_offload(request.user, get_object_or_404(Offload, pk=offload_id), back=True)
    return Done()


@router.post("/offloads/{offload_id}/resume", response={200: Done, **REFUSED})
def resume(request: HttpRequest, offload_id: int) -> Done:
    hold_back_offload(request.user, get_object_or_404(Offload, pk=offload_id), back=False)
    return Done()


@router.post("/readers/{reader_id}/unattended", response={200: Done, **REFUSED})
def unattended(request: HttpRequest, reader_id: int, given: UnattendedIn) -> Done:
    plan = get_object_or_404(production().plans, name=given.plan) if given.plan else None
    set_unattended(request.user, get_object_or_404(Reader, pk=reader_id), on=given.on, plan=plan)
    return Done()
