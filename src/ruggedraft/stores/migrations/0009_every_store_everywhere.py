"""Until here every production saw every store: each goes on using what it could."""

from django.db import migrations


def share(apps, schema_editor):
    productions = list(apps.get_model("productions", "Production").objects.all())
    for store in apps.get_model("stores", "Store").objects.all():
        store.productions.set(productions)


class Migration(migrations.Migration):
    dependencies = [("stores", "0008_stores_of_productions")]
    operations = [migrations.RunPython(share, migrations.RunPython.noop)]
