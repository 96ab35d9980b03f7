from django.db import migrations, models


def by_variable(apps, schema_editor):
    """What was said of one variable stands under its symbol, so that one entry can speak of many."""
    Entry = apps.get_model("ledger", "Entry")
    schema_editor.execute("ALTER TABLE ledger_entry DISABLE TRIGGER only_added")
    for entry in Entry.objects.filter(kind="describe").exclude(variable=""):
        entry.changes, entry.variable = {entry.variable: entry.changes}, ""
        entry.save()
    schema_editor.execute("ALTER TABLE ledger_entry ENABLE TRIGGER only_added")


class Migration(migrations.Migration):
    dependencies = [
        ("ledger", "0003_entry_changes_alter_entry_kind"),
    ]

    operations = [
        migrations.AlterField(
            model_name="entry",
            name="kind",
            field=models.CharField(
                choices=[
                    ("set-aside", "Set Aside"),
                    ("put-back", "Put Back"),
                    ("describe", "Describe"),
                    ("correct", "Correct"),
                    ("reread", "Reread"),
                    ("follow", "Follow"),
                    ("undo", "Undo"),
                    ("redo", "Redo"),
                ],
                max_length=10,
            ),
        ),
        migrations.RunPython(by_variable, migrations.RunPython.noop),
    ]
