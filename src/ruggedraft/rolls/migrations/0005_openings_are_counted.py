"""The database counts openings of clips among the facts of each roll; see `0002_facts_are_counted`."""

from django.db import migrations

_EVENTS = {"insert": "NEW", "update": "NEW", "delete": "OLD"}
_COUNT = """
CREATE FUNCTION rolls_count_clipopening() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    UPDATE rolls_roll SET version = version + 1 WHERE id IN (SELECT DISTINCT roll_id FROM noted);
    RETURN NULL;
END $$;
""" + "".join(
    f"CREATE TRIGGER count_{event} AFTER {event.upper()} ON rolls_clipopening"
    f" REFERENCING {rows} TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION rolls_count_clipopening();\n"
    for event, rows in _EVENTS.items()
)
_STOP = "".join(f"DROP TRIGGER count_{event} ON rolls_clipopening;\n" for event in _EVENTS)


class Migration(migrations.Migration):
    dependencies = [("rolls", "0004_openings_and_deliveries")]
    operations = [migrations.RunSQL(_COUNT, _STOP + "DROP FUNCTION rolls_count_clipopening();")]
