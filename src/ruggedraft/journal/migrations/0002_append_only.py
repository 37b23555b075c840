from django.db import migrations

_REFUSE = """
CREATE FUNCTION is_append_only() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION '% is append-only', TG_TABLE_NAME;
END $$;
CREATE TRIGGER journal_append_only BEFORE UPDATE OR DELETE ON journal_journalentry
    FOR EACH ROW EXECUTE FUNCTION is_append_only();
"""
_ALLOW = """
DROP TRIGGER journal_append_only ON journal_journalentry;
DROP FUNCTION is_append_only();
"""


class Migration(migrations.Migration):
    dependencies = [("journal", "0001_initial")]
    operations = [migrations.RunSQL(_REFUSE, _ALLOW)]
