import uuid

from django.conf import settings
from django.db import models
from django.utils import timezone

from server.studies.models import Table


class Entry(models.Model):
    """One decision on a table. Entries are added and never changed; taking one back is an entry too."""

    class Kind(models.TextChoices):
        SET_ASIDE = "set-aside"
        PUT_BACK = "put-back"
        KEEP = "keep"
        DESCRIBE = "describe"
        CORRECT = "correct"
        DERIVE = "derive"
        REREAD = "reread"
        FOLLOW = "follow"
        LINE_UP = "line-up"
        UNDO = "undo"
        REDO = "redo"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    table = models.ForeignKey(Table, on_delete=models.CASCADE, related_name="entries")
    number = models.PositiveIntegerField()
    kind = models.CharField(max_length=10, choices=Kind)
    rows = models.JSONField(default=list)  # runs of row numbers, both ends belong
    n_rows = models.PositiveIntegerField(default=0)
    variable = models.CharField(max_length=60, blank=True)
    changes = models.JSONField(default=dict)  # what was said or corrected, as heron.record.Decision has it
    of = models.PositiveIntegerField(default=0)
    reason = models.TextField(blank=True)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    # Who decided, where the entry came with a package: a name from there, vouched for by nobody here.
    brought_from = models.CharField(max_length=150, blank=True)
    made = models.DateTimeField(default=timezone.now)
    revision_before = models.PositiveIntegerField()
    revision_after = models.PositiveIntegerField()

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["table", "number"], name="one_number_each")]

    @property
    def by_whom(self) -> str:
        """The name of who decided, here or where the entry came from."""
        return self.brought_from or self.author.get_username()
