"""Who carried a device was a field of it: it becomes the first row of its custody."""

from django.db import migrations
from django.utils import timezone


def keep(apps, schema_editor):
    custody = apps.get_model("kit", "Custody")
    for device in apps.get_model("kit", "Device").objects.exclude(carried_by=None):
        who = device.carried_by
        custody.objects.create(device=device, holder=who, by=who, place=device.location, at=timezone.now())


class Migration(migrations.Migration):
    dependencies = [("kit", "0004_custody")]
    operations = [migrations.RunPython(keep, migrations.RunPython.noop)]
