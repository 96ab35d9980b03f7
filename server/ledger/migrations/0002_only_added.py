from django.db import migrations

# Entries are evidence: the database itself refuses to change one, or to remove one while its table stands.
GUARD = """
CREATE FUNCTION ledger_only_added() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'DELETE' AND NOT EXISTS (SELECT 1 FROM studies_table WHERE id = OLD.table_id) THEN
    RETURN OLD;
  END IF;
  IF TG_OP = 'DELETE' AND current_setting('heron.removing_table', true) = OLD.table_id::text THEN
    RETURN OLD;
  END IF;
  RAISE EXCEPTION 'entries of the ledger are only ever added';
END $$;
CREATE TRIGGER only_added BEFORE UPDATE OR DELETE ON ledger_entry FOR EACH ROW EXECUTE FUNCTION ledger_only_added();
"""


class Migration(migrations.Migration):
    dependencies = [("ledger", "0001_initial")]

    operations = [
        migrations.RunSQL(GUARD, "DROP TRIGGER only_added ON ledger_entry; DROP FUNCTION ledger_only_added();")
    ]
