from django.db import migrations, models


class Migration(migrations.Migration):
    """A store is found by its file system wherever that is mounted."""

    dependencies = [("stores", "0001_initial")]

    operations = [
        migrations.AddField("store", "inside", models.CharField(blank=True, default="", max_length=1000), False),
        migrations.AddField("store", "volume", models.CharField(blank=True, default="", max_length=80), False),
    ]
