from django.db import migrations

from server.plates.earlier import as_now


def read_as_now(apps, schema_editor):
    Plate = apps.get_model("plates", "Plate")
    for plate in Plate.objects.only("document").iterator():
        plate.document = as_now(plate.document)
        plate.save(update_fields=["document"])


class Migration(migrations.Migration):
    dependencies = [("plates", "0002_sources")]

    operations = [migrations.RunPython(read_as_now, migrations.RunPython.noop)]
