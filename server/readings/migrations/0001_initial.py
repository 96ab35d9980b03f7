from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True
    dependencies = []
    operations = [
        migrations.CreateModel(
            name="View",
            fields=[
                ("name", models.CharField(max_length=200, primary_key=True, serialize=False)),
                ("newest", models.BigIntegerField()),
                ("share", models.FloatField(null=True)),
                ("asked", models.DateTimeField(auto_now_add=True, db_index=True)),
            ],
        ),
        # What views ask is worth no log of its own, and is worth nothing after a crash.
        migrations.RunSQL("ALTER TABLE readings_view SET UNLOGGED", "ALTER TABLE readings_view SET LOGGED"),
    ]
