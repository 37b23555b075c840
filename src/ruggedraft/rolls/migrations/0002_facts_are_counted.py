"""The database counts the facts of each roll, whoever writes them: `rolls_roll.version` and `content`.

Statement by statement and not row by row: a card may bring tens of thousands of files at once.
"""

from django.db import migrations

_OF_ITS_OWN = "SELECT DISTINCT roll_id FROM noted"
_BY_COPY = "SELECT DISTINCT c.roll_id FROM noted n JOIN rolls_copy c ON c.id = n.copy_id"
_BY_READING = (
    "SELECT DISTINCT c.roll_id FROM (SELECT DISTINCT reading_id FROM noted) n"
    " JOIN rolls_reading r ON r.id = n.reading_id JOIN rolls_copy c ON c.id = r.copy_id"
)
_COUNTED = {
    "take": (_OF_ITS_OWN, True),
    "rollfile": (_OF_ITS_OWN, True),
    "leftbehind": (_OF_ITS_OWN, True),
    "waiver": (_OF_ITS_OWN, True),
    "copy": (_OF_ITS_OWN, False),
    "reading": (_BY_COPY, False),
    "readingresult": (_BY_READING, False),
}
"""By table: the rolls that rows speak of, and whether they are about the roll's content."""
_EVENTS = {"insert": "NEW", "update": "NEW", "delete": "OLD"}


def _count(table: str) -> str:
    rolls, content = _COUNTED[table]
    more = ", content = content + 1" if content else ""
    triggers = "".join(
        f"CREATE TRIGGER count_{event} AFTER {event.upper()} ON rolls_{table}"
        f" REFERENCING {rows} TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION rolls_count_{table}();\n"
        for event, rows in _EVENTS.items()
    )
    return f"""
CREATE FUNCTION rolls_count_{table}() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    UPDATE rolls_roll SET version = version + 1{more} WHERE id IN ({rolls});
    RETURN NULL;
END $$;
{triggers}"""


def _stop(table: str) -> str:
    drops = "".join(f"DROP TRIGGER count_{event} ON rolls_{table};\n" for event in _EVENTS)
    return f"{drops}DROP FUNCTION rolls_count_{table}();"


class Migration(migrations.Migration):
    dependencies = [("rolls", "0001_initial")]
    operations = [migrations.RunSQL(_count(table), _stop(table)) for table in _COUNTED]
