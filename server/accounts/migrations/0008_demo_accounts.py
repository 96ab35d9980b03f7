from django.db import migrations, models

# What is known for a minute or two, such as a code that was used: nothing is lost with it.
_MAKE = """
CREATE UNLOGGED TABLE short_lived (cache_key varchar(255) PRIMARY KEY, value text NOT NULL, expires timestamptz NOT NULL);
CREATE INDEX short_lived_expires ON short_lived (expires);
"""


def mark_demo(apps, editor):
    apps.get_model("accounts", "User").objects.filter(username="demo").update(demo=True)


class Migration(migrations.Migration):
    dependencies = [("accounts", "0007_quotas_invitations")]
    operations = [
        migrations.AddField("user", "demo", models.BooleanField(default=False)),
        migrations.RunPython(mark_demo, migrations.RunPython.noop),
        migrations.RunSQL(_MAKE, "DROP TABLE short_lived"),
    ]
