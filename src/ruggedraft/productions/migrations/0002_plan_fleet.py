from django.db import migrations
from django.db.models import F, Value
from django.db.models.functions import Replace


def rename(apps, old, new):
    templates = {
        name: Replace(F(name), Value("{" + old), Value("{" + new)) for name in ("folder_template", "names_template")
    }
    apps.get_model("productions", "Plan").objects.update(**templates)


class Migration(migrations.Migration):
    """A plan's group is called its fleet, in its templates too."""

    dependencies = [("productions", "0001_initial")]

    operations = [
        migrations.RenameField("plan", "group", "fleet"),
        migrations.RunPython(
            lambda apps, _: rename(apps, "group", "fleet"), lambda apps, _: rename(apps, "fleet", "group")
        ),
    ]
