from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("studies", "0008_one_state")]

    operations = [
        migrations.RemoveField("table", "aside"),
        migrations.RemoveField("table", "described"),
        migrations.RemoveField("table", "corrected"),
        migrations.RemoveField("table", "facts"),
        migrations.RemoveField("table", "derived"),
        migrations.RemoveField("variable", "derived"),
        migrations.AddConstraint(
            "variable",
            models.UniqueConstraint(fields=["table", "import_version", "symbol"], name="one_symbol_each"),
        ),
        migrations.RenameField("table", "made", "origin"),
        migrations.RenameField("table", "origins", "row_origins"),
    ]
