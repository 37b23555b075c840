"""Until here a role was of the whole ledger: everybody has it in each of its productions."""

from django.db import migrations
from django.utils import timezone


def keep(apps, schema_editor):
    people, productions = apps.get_model("crew", "Person"), apps.get_model("productions", "Production")
    memberships, links = apps.get_model("crew", "Membership"), apps.get_model("crew", "Invitation")
    for production in productions.objects.order_by("id"):
        for person in people.objects.order_by("id"):
            off = None if person.is_active else timezone.now()
            memberships.objects.create(person=person, production=production, role=person.role, off_since=off)
        links.objects.filter(person=None, ended_at=None).update(production=production)  # the newest, in the end


class Migration(migrations.Migration):
    dependencies = [("crew", "0004_roles_per_production")]
    operations = [migrations.RunPython(keep, migrations.RunPython.noop)]
