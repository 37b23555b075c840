import uuid

from django.conf import settings
from django.db import models

from ruggedraft.core.stores import StoreKind
from ruggedraft.kit.models import Device, Station


class Store(models.Model):
    """A place that copies are kept in. The `uuid` of one that is a folder is also written into the folder itself.

    kind: how it is reached
    identities: of every physical device under the folder, as the station's probe read them; empty where the machine
        cannot tell. Stores whose identities overlap are one device, whatever they are called.
    path: where it was last seen. inside: how deep in its file system. volume: that file system's own UUID, or empty
        where it has none. By both it is found wherever it is mounted next
    file_system: a name of `core.naming.FILE_SYSTEMS`, as the station found it
    reserve: bytes that must stay free
    seals: files are made read-only once a run has verified them there, as an archive's should be
    keeps_backups: the ledger is backed up there too, once a day
    address: of one on a server, as `core.stores.sftp.SftpAddress` has it; `path` says the same for people
    attests: its server computes checksums itself, which is believed instead of reading back what was written
    retired_at: since when it is out of service: nothing goes there, and nothing there counts
    productions: those that use it; it is seen in no other
    system_disk_reason: why a store on the computer's own disk was allowed; such a store never counts
    """

    kind = models.CharField(
        max_length=12, choices=[(kind.value, kind.value) for kind in StoreKind], default=StoreKind.FOLDER.value
    )
    uuid = models.UUIDField(default=uuid.uuid4, unique=True)
    name = models.CharField(max_length=80, unique=True)
    productions = models.ManyToManyField("productions.Production", related_name="shared_stores")
    device = models.ForeignKey(Device, on_delete=models.PROTECT, related_name="stores")
    identities = models.JSONField(default=list)
    path = models.CharField(max_length=1000)
    inside = models.CharField(max_length=1000, blank=True)
    volume = models.CharField(max_length=80, blank=True)
    file_system = models.CharField(max_length=20, default="Linux")
    reserve = models.BigIntegerField(default=0)
    address = models.JSONField(default=dict)
    attests = models.BooleanField(default=False)
    landing = models.BooleanField(default=False)
    seals = models.BooleanField(default=False)
    keeps_backups = models.BooleanField(default=False)
    system_disk_reason = models.CharField(max_length=300, blank=True)
    retired_at = models.DateTimeField(null=True)
    position = models.IntegerField(default=0)

    class Meta:
        ordering = ["position", "id"]

    @property
    def device_keys(self) -> frozenset[str]:
        """Of what it stands on, for sharing it; where the machine cannot tell it is a device of its own."""
        return frozenset(self.identities or (f"store {self.pk}",))

    @property
    def is_local(self) -> bool:
        return StoreKind(self.kind).is_local

    @property
    def counts(self) -> bool:
        return not self.landing and not self.system_disk_reason and self.retired_at is None


class StoreSecret(models.Model):
    """What opens the server that a store is on. sealed: as `stores.secrets` has it, of no use without the key"""

    store = models.OneToOneField(Store, on_delete=models.PROTECT, related_name="+")
    sealed = models.BinaryField()
    given_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    given_at = models.DateTimeField()


class StoreSighting(models.Model):
    """The last time one station looked for a store, and what it saw. `trouble` says why it is not usable from there."""

    store = models.ForeignKey(Store, on_delete=models.CASCADE, related_name="sightings")
    station = models.ForeignKey(Station, on_delete=models.CASCADE, related_name="sightings")
    seen_at = models.DateTimeField()
    online = models.BooleanField()
    trouble = models.CharField(max_length=300, blank=True)
    free = models.BigIntegerField(default=0)
    total = models.BigIntegerField(default=0)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["store", "station"], name="one_sighting_a_store_and_station")]


class DeviceStatement(models.Model):
    """A supervisor says what a store stands on, where the machine cannot tell. The last one for a store holds.

    stands_on: a name for the physical thing; stores with the same name are one device
    """

    store = models.ForeignKey(Store, on_delete=models.PROTECT, related_name="statements")
    stands_on = models.CharField(max_length=80)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    reason = models.CharField(max_length=300)


class LedgerBackup(models.Model):
    """The whole ledger was written into a file on a store, read again, and given its name. `file`: beneath the store"""

    store = models.ForeignKey(Store, on_delete=models.PROTECT, related_name="ledger_backups")
    at = models.DateTimeField()
    file = models.CharField(max_length=200)
    bytes = models.BigIntegerField()
