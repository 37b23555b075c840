"""Names belong to a listing that is there: looked at once for all that a statement adds, not for each of thousands.

The same is guaranteed as by a foreign key, which on 100,000 names took a second of the two that noting them took.
"""

import django.db.models.deletion
from django.db import migrations, models

_WATCH = """
CREATE FUNCTION intake_names_have_a_listing() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
    named bigint;
    there bigint;
BEGIN
    SELECT count(DISTINCT listing_id) INTO named FROM noted;
    SELECT count(*) INTO there FROM (
        SELECT 1 FROM intake_cardlisting WHERE id IN (SELECT DISTINCT listing_id FROM noted) FOR KEY SHARE
    ) held;
    IF named <> there THEN
        RAISE foreign_key_violation USING MESSAGE = 'names of a listing that is not there';
    END IF;
    RETURN NULL;
END $$;
CREATE TRIGGER names_have_a_listing AFTER INSERT ON intake_listedentry
    REFERENCING NEW TABLE AS noted FOR EACH STATEMENT EXECUTE FUNCTION intake_names_have_a_listing();

CREATE FUNCTION intake_names_stay() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE foreign_key_violation USING MESSAGE = 'names stay with the listing that they were noted in';
END $$;
CREATE TRIGGER names_stay BEFORE UPDATE OF listing_id ON intake_listedentry FOR EACH ROW
    WHEN (OLD.listing_id IS DISTINCT FROM NEW.listing_id) EXECUTE FUNCTION intake_names_stay();

CREATE FUNCTION intake_listing_has_no_names() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF EXISTS (SELECT 1 FROM intake_listedentry WHERE listing_id = OLD.id) THEN
        RAISE foreign_key_violation USING MESSAGE = 'a listing whose names are still there';
    END IF;
    RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER listing_has_no_names AFTER DELETE ON intake_cardlisting DEFERRABLE INITIALLY DEFERRED
    FOR EACH ROW EXECUTE FUNCTION intake_listing_has_no_names();
"""
_STOP = """
DROP TRIGGER names_have_a_listing ON intake_listedentry;
DROP TRIGGER names_stay ON intake_listedentry;
DROP TRIGGER listing_has_no_names ON intake_cardlisting;
DROP FUNCTION intake_names_have_a_listing();
DROP FUNCTION intake_names_stay();
DROP FUNCTION intake_listing_has_no_names();
"""


class Migration(migrations.Migration):
    dependencies = [("intake", "0011_older_fingerprints")]
    operations = [
        migrations.AlterField(
            model_name="listedentry",
            name="listing",
            field=models.ForeignKey(
                db_constraint=False,
                on_delete=django.db.models.deletion.CASCADE,
                related_name="entries",
                to="intake.cardlisting",
            ),
        ),
        migrations.RunSQL(_WATCH, _STOP),
    ]
