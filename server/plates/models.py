import uuid

from django.conf import settings
from django.db import models

from server.studies.models import Study


class Plate(models.Model):
    """A figure prepared for publication: a specification, and the readings that it stands on."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    study = models.ForeignKey(Study, on_delete=models.CASCADE, related_name="plates")
    name = models.CharField(max_length=200)
    place = models.FloatField()  # among the plates of the study
    group = models.CharField(max_length=200, blank=True)  # the set of a repeat; "" for a plate of its own
    document = models.JSONField()
    # What it showed when somebody last looked: {"revisions": {table: revision}, "numbers": [[name, value, unit], ...]}.
    last_reviewed = models.JSONField(default=dict)
    # The scenes as they were when it was frozen, in an envelope; None while it follows its data.
    frozen = models.BinaryField(null=True)
    version = models.PositiveIntegerField(default=1)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, related_name="+", null=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["place", "changed"]


class Style(models.Model):
    """How plates look, under a name, with the person who keeps it."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="styles")
    name = models.CharField(max_length=60)
    body = models.JSONField()

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="one_style_each")]
