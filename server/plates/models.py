import uuid

from django.conf import settings
from django.db import models

from server.studies.models import Study


class Kept(models.Model):
    """What is kept in a study under a name, with its document."""

    study: models.ForeignKey[Study, Study]
    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=200)
    place = models.FloatField()  # among those of the study
    document = models.JSONField()
    version = models.PositiveIntegerField(default=1)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, related_name="+", null=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        abstract = True
        ordering = ["place", "changed"]


class ForPublication(Kept):
    """What is kept for publication: its specification, and what it stands on."""

    # What it showed when somebody last looked: {"revisions": {table: revision}, "numbers": [[name, value, unit], ...]}.
    last_reviewed = models.JSONField(default=dict)

    class Meta(Kept.Meta):
        abstract = True


class Plate(ForPublication):
    """A figure prepared for publication: a specification, and the readings that it stands on."""

    study = models.ForeignKey(Study, on_delete=models.CASCADE, related_name="plates")
    group = models.CharField(max_length=200, blank=True)  # the set of a repeat; "" for a plate of its own
    # The scenes as they were when it was frozen, in an envelope; None while it follows its data.
    frozen = models.BinaryField(null=True)


class PlatePicture(models.Model):
    """A plate as a page drew it, as compressed SVG. key: what it was drawn of, as `selectors.drawn_of` writes it."""

    plate = models.OneToOneField(Plate, on_delete=models.CASCADE, related_name="picture")
    key = models.TextField()
    svg = models.BinaryField()


class TablePlate(ForPublication):
    """A table of numbers prepared for publication."""

    study = models.ForeignKey(Study, on_delete=models.CASCADE, related_name="table_plates")
    # What stood in it when it was frozen: {"table": ..., "revisions": {...}}; None while it follows its data.
    frozen = models.JSONField(null=True)


class Style(models.Model):
    """How plates look, under a name, with the person who keeps it."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="styles")
    name = models.CharField(max_length=60)
    body = models.JSONField()

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="one_style_each")]
