from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("readings", "0001_initial")]
    operations = [
        migrations.AddField(model_name="view", name="note", field=models.CharField(blank=True, max_length=200)),
    ]
