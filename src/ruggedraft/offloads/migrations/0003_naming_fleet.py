from django.db import migrations

_RENAME = """
UPDATE offloads_offload SET naming = replace(replace(naming::text, '{%(old)s', '{%(new)s'), '"%(old)s":', '"%(new)s":')::jsonb
WHERE naming::text LIKE '%%"%(old)s":%%'
"""


class Migration(migrations.Migration):
    """What a run's names were given from calls a plan's group its fleet."""

    dependencies = [("offloads", "0002_offload_other_stores_pullseen"), ("productions", "0002_plan_fleet")]

    operations = [
        migrations.RunSQL(
            _RENAME % {"old": "group", "new": "fleet"}, _RENAME % {"old": "fleet", "new": "group"}
        )
    ]
