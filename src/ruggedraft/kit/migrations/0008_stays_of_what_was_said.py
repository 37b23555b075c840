"""What was said of cards until here: after the last stay that its time came after."""

from django.db import migrations


def note(apps, schema_editor):
    stays = apps.get_model("intake", "Insertion")
    for row in apps.get_model("kit", "Custody").objects.exclude(card=None):
        before = stays.objects.filter(card_id=row.card_id, inserted_at__lte=row.at).order_by("-pk").first()
        row.after = before.pk if before else 0
        row.save(update_fields=["after"])


class Migration(migrations.Migration):
    dependencies = [("kit", "0007_custody_after_stays")]
    operations = [migrations.RunPython(note, migrations.RunPython.noop)]
