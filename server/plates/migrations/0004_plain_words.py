from django.db import migrations

from server.plates.earlier import as_now, reviewed_as_now


def read_as_now(apps, schema_editor):
    Plate = apps.get_model("plates", "Plate")
    for plate in Plate.objects.only("document", "seen").iterator():
        plate.document, plate.seen = as_now(plate.document), reviewed_as_now(plate.seen)
        plate.save(update_fields=["document", "seen"])


class Migration(migrations.Migration):
    dependencies = [("plates", "0003_pairs")]

    operations = [migrations.RunPython(read_as_now, migrations.RunPython.noop)]
