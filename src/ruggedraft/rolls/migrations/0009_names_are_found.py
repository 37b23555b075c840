"""Names of files, beside the files: whatever is noted of a file when it is read does not touch what finds it."""

import django.db.models.deletion
from django.contrib.postgres.operations import TrigramExtension
from django.db import migrations, models

# as `rolls.names` does it for rolls that come later
_FILL = """
INSERT INTO rolls_filename (file_id, roll_id, names)
SELECT id, roll_id, lower(substring(path from '[^/]*$') || ' ' || substring(kept_as from '[^/]*$')) FROM rolls_rollfile;
INSERT INTO rolls_rollnamed (roll_id, content) SELECT id, content FROM rolls_roll;
CREATE INDEX file_by_name ON rolls_filename USING gin (names gin_trgm_ops);
"""


class Migration(migrations.Migration):
    dependencies = [("rolls", "0008_media_found")]
    operations = [
        TrigramExtension(),
        migrations.CreateModel(
            name="FileName",
            fields=[
                ("file", models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, primary_key=True, related_name="named", serialize=False, to="rolls.rollfile")),
                ("names", models.TextField()),
                ("roll", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="+", to="rolls.roll")),
            ],
        ),
        migrations.CreateModel(
            name="RollNamed",
            fields=[
                ("roll", models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, primary_key=True, related_name="named", serialize=False, to="rolls.roll")),
                ("content", models.BigIntegerField()),
            ],
        ),
        migrations.RunSQL(_FILL, "DROP INDEX file_by_name"),
    ]
