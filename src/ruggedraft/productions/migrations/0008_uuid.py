from uuid import uuid4

from django.db import migrations, models


def give_each_its_own(apps, schema_editor):
    for production in apps.get_model("productions", "Production").objects.all():
        production.uuid = uuid4()
        production.save(update_fields=["uuid"])


class Migration(migrations.Migration):
    dependencies = [("productions", "0007_release_after")]

    operations = [
        migrations.AddField("production", "uuid", models.UUIDField(default=uuid4, editable=False)),
        migrations.RunPython(give_each_its_own, migrations.RunPython.noop),
        migrations.AlterField("production", "uuid", models.UUIDField(default=uuid4, editable=False, unique=True)),
    ]
