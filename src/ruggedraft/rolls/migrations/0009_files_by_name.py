"""Files are found by any three signs of their names: the card's own, and the one that copies keep them under."""

from django.contrib.postgres.operations import TrigramExtension
from django.db import migrations

# as `finding.files` asks
_NAMES = r"lower(substring(path from '[^/]*$') || ' ' || substring(kept_as from '[^/]*$'))"


class Migration(migrations.Migration):
    dependencies = [("rolls", "0008_media_found")]
    operations = [
        TrigramExtension(),
        migrations.RunSQL(
            f"CREATE INDEX roll_file_by_name ON rolls_rollfile USING gin (({_NAMES}) gin_trgm_ops)",
            "DROP INDEX roll_file_by_name",
        ),
    ]
