from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("studies", "0008_one_state")]

    operations = [
        migrations.RenameField("table", "made", "origin"),
        migrations.RenameField("table", "origins", "row_origins"),
    ]
