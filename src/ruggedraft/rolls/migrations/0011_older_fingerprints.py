"""A ledger that has fingerprints goes on with their kind, as those of another cannot be compared with them."""

from django.db import migrations

_GO_ON = """
INSERT INTO intake_olderfingerprints (kind) SELECT 'blake2b'
WHERE EXISTS (SELECT 1 FROM rolls_rollfile WHERE fingerprint <> '')
   OR EXISTS (SELECT 1 FROM intake_listedentry WHERE fingerprint <> '')
"""


class Migration(migrations.Migration):
    dependencies = [("rolls", "0010_making_room"), ("intake", "0011_older_fingerprints")]

    operations = [migrations.RunSQL(_GO_ON, migrations.RunSQL.noop)]
