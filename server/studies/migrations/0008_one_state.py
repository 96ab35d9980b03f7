from collections.abc import Iterable
from typing import Any

from django.db import migrations, models
from heron.ledger import Decision, replay_decisions


def write_states(apps: Any, schema_editor: Any) -> None:
    """What the entries of each table come to, in one field; variables that nothing can make now rest."""
    entries = apps.get_model("ledger", "Entry").objects
    for table in apps.get_model("studies", "Table").objects.iterator():
        decisions = [
            Decision(entry.number, entry.kind, _runs(entry.rows), entry.variable, entry.of, entry.changes)
            for entry in entries.filter(table=table.pk).order_by("number")
        ]
        written = replay_decisions(decisions).to_json()
        there = {symbol for symbol, _ in table.derived}
        written["resting"] = [symbol for symbol, _ in written["derived"] if symbol not in there]
        table.state = {name: value for name, value in written.items() if name != "import_version"}
        table.save(update_fields=["state"])
    apps.get_model("studies", "Variable").objects.filter(derived=True).delete()


def _runs(rows: Iterable[Iterable[int]]) -> tuple[tuple[int, int], ...]:
    return tuple((first, last) for first, last in rows)


class Migration(migrations.Migration):
    dependencies = [("studies", "0007_job_tries"), ("ledger", "0008_brought_from")]

    operations = [
        migrations.RemoveConstraint("variable", "one_symbol_each"),
        migrations.RenameField("table", "readings", "imports"),
        migrations.RenameField("table", "reading", "import_version"),
        migrations.RenameField("variable", "reading", "import_version"),
        migrations.AddField("table", "state", models.JSONField(default=dict)),
        migrations.AddField("table", "summaries", models.JSONField(default=dict)),
        # Alone at the end: PostgreSQL changes no table of which a row was just removed.
        migrations.RunPython(write_states, elidable=False),
    ]
