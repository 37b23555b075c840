"""A unit's people, cameras, cards and stores: those that are known here are the same, the others are added."""

from django.contrib.auth.hashers import make_password

from ruggedraft.clearing.card_list import card_lines
from ruggedraft.clearing.cases import active_cards, cases
from ruggedraft.core.machine.devices import UNKNOWN
from ruggedraft.core.redundancy import CardLife
from ruggedraft.core.stores import StoreKind
from ruggedraft.crew.models import Person
from ruggedraft.intake.models import Card
from ruggedraft.journal.clock import now
from ruggedraft.kit.models import Device, Location, Medium
from ruggedraft.productions.models import Camera, Plan
from ruggedraft.stores.models import Store

from .known import Known
from .lines import (
    CameraLine,
    CardLine,
    PersonLine,
    StoreLine,
)


class Things:
    """What rolls and copies speak of."""

    def __init__(self, known: Known) -> None:
        self._known = known

    def take_in(self) -> None:
        """Each with its row here noted."""
        self._people()
        self._cameras()
        self._cards()
        self._stores()

    def _people(self) -> None:
        """Nobody of the unit becomes somebody of this crew: who did what there is told, and signs nothing here."""
        for one in self._known.said.of(PersonLine):
            if self._known.ours("person", one.id) is None:
                username = f"{one.username[:100]}@{self._known.unit.name.lower().replace(' ', '-')}"
                made, _ = Person.objects.get_or_create(
                    username=username,
                    defaults={
                        "first_name": f"{one.name} ({self._known.unit.name})"[:150], "is_active": False,
                        "password": make_password(None),
                    },
                )  # fmt: skip
                self._known.note("person", one.id, made.pk)

    def _cameras(self) -> None:
        plan = Plan.objects.filter(production=self._known.production).order_by("pk").first()
        for one in self._known.said.of(CameraLine):
            here = Camera.objects.filter(production=self._known.production, letter=one.letter).first()
            if here is None and plan is not None:
                here = Camera.objects.create(
                    production=self._known.production, letter=one.letter, name=one.name, kind=one.is_a, plan=plan
                )
            if here is not None and self._known.ours("camera", one.id) is None:
                self._known.note("camera", one.id, here.pk)

    def _cards(self) -> None:
        for one in self._known.said.of(CardLine):
            camera = self._known.ours("camera", one.camera)
            here = Card.objects.filter(label=one.label).select_related("camera").first()
            if here is None and camera is not None:
                here = Card.objects.create(label=one.label, kind=one.is_a, capacity=one.capacity, camera_id=camera)
            if here is None or not self._is_the_same_card(here, one):
                continue
            for serial in one.serials:
                here.serials.get_or_create(serial=serial)
            if self._known.ours("card", one.id) is None:
                self._known.note("card", one.id, here.pk)
        self._cards_in_two_places()

    def _is_the_same_card(self, here: Card, one: CardLine) -> bool:
        if here.camera is not None and here.camera.production_id != self._known.production.pk:
            self._known.conflict(f"Card {one.label} belongs to another production here: nothing of it was taken in.")
            return False
        serials = set(here.serials.values_list("serial", flat=True))
        if serials and one.serials and serials.isdisjoint(one.serials):
            words = "is another card here: its serial is not the same. Nothing of the unit's was taken in"
            self._known.conflict(f"Card {one.label} {words}.")
            return False
        return True

    def _cards_in_two_places(self) -> None:
        """A card that both sides say they have."""
        theirs = {one.label: one for one in self._known.said.of(CardLine) if one.with_us}
        cards = active_cards().filter(camera__production=self._known.production, label__in=theirs)
        for line in card_lines(cases(cards)):
            here = line.case.stay is not None or (line.said is not None and bool(line.said.name))
            label = line.case.card.label
            if here and line.life is not CardLife.NEW:
                words = f"Card {label} is {line.whereabouts} here, and {theirs[label].whereabouts} as unit"
                self._known.conflict(f"{words} {self._known.unit.name} knows: it is in one place.")

    def _stores(self) -> None:
        for one in self._known.said.of(StoreLine):
            here = Store.objects.filter(uuid=one.uuid).first()
            if here is None:
                here = self._new_store(one)
            here.productions.add(self._known.production)
            if self._known.ours("store", one.id) is None:
                self._known.note("store", one.id, here.pk)

    def _new_store(self, one: StoreLine) -> Store:
        """What it stands on is as the unit's machine read it; it is looked at anew when it is connected here."""
        location, fresh = Location.objects.get_or_create(name=one.place)
        if fresh and one.offsite:
            location.offsite = True
            location.save(update_fields=["offsite"])
        certain = set(one.stands_on) - {UNKNOWN}
        device = next(
            (store.device for store in Store.objects.select_related("device") if certain & set(store.identities)), None
        ) or Device.objects.create(
            name=self._known.free(one.device, lambda name: Device.objects.filter(name=name).exists()),
            medium=one.medium if one.medium in Medium.values else Medium.DISK, location=location,
        )  # fmt: skip
        made = Store.objects.create(
            uuid=one.uuid, name=self._known.free(one.name, lambda name: Store.objects.filter(name=name).exists()),
            kind=one.is_a if one.is_a in set(StoreKind) else StoreKind.FOLDER.value, device=device,
            identities=sorted(set(one.stands_on)), path=one.path, inside=one.inside, volume=one.volume,
            file_system=one.file_system, landing=one.landing, system_disk_reason=one.system_disk_reason,
            retired_at=now() if one.retired else None,
        )  # fmt: skip
        if made.name != one.name:
            self._known.conflict(f"There is another store '{one.name}' here: the unit's is called '{made.name}'.")
        return made
