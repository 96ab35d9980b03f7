import uuid

from django.conf import settings
from django.db import models


class Study(models.Model):
    """One piece of work: tables and the people who may see them."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    title = models.CharField(max_length=200)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["created"]
        verbose_name_plural = "studies"


class Link(models.Model):
    """An address that lets whoever has it look at a study until it expires or is revoked. Only the digest of its secret
    is kept, so that it can be shown once alone."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    study = models.ForeignKey(Study, on_delete=models.CASCADE, related_name="links")
    name = models.CharField(max_length=100)
    digest = models.CharField(max_length=64, unique=True)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    created = models.DateTimeField(auto_now_add=True)
    expires = models.DateTimeField()
    opened = models.DateTimeField(null=True)

    class Meta:
        ordering = ["created"]


class Membership(models.Model):
    """Who may see a study, and whether they may change it."""

    class Role(models.TextChoices):
        OWNER = "owner"
        EDITOR = "editor"
        VIEWER = "viewer"

    study = models.ForeignKey(Study, on_delete=models.CASCADE, related_name="memberships")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=10, choices=Role)
    # The link by which somebody came, and until when; None for a member.
    link = models.ForeignKey(Link, on_delete=models.CASCADE, related_name="memberships", null=True)
    until = models.DateTimeField(null=True)
    here = models.DateTimeField(null=True)  # when the study was open before this person last

    class Meta:
        constraints = [models.UniqueConstraint(fields=["study", "user"], name="one_role_each")]


class SourceFile(models.Model):
    """A file as it came, byte for byte, in pieces."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=255)
    sha256 = models.CharField(max_length=64)
    size = models.BigIntegerField()
    created = models.DateTimeField(auto_now_add=True)


class Piece(models.Model):
    file = models.ForeignKey(SourceFile, on_delete=models.CASCADE, related_name="pieces")
    position = models.PositiveIntegerField()
    data = models.BinaryField()

    class Meta:
        ordering = ["position"]
        constraints = [models.UniqueConstraint(fields=["file", "position"], name="one_piece_each")]


class WholeTables(models.Manager["Table"]):
    """The tables all of whose rows are there."""

    def get_queryset(self) -> models.QuerySet["Table"]:
        return super().get_queryset().filter(arriving=None)


class Table(models.Model):
    """A stored table. Rows keep for life the number of their record in the source."""

    objects = WholeTables()
    every: models.Manager["Table"] = models.Manager()

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    study = models.ForeignKey(Study, on_delete=models.CASCADE, related_name="tables")
    name = models.CharField(max_length=200)
    n_rows = models.PositiveIntegerField()
    revision = models.PositiveIntegerField(default=1)
    # What the ledger's entries come to, as heron.ledger.TableState writes it.
    state = models.JSONField(default=dict)
    # What lists say of each variable that was described, corrected or derived: {symbol: {"key", "kind", "levels"}};
    # the key is that of the column in the state.
    summaries = models.JSONField(default=dict)
    # How the source file was imported, each time with its choices and rows, and which of the versions is in force.
    imports = models.JSONField(default=list)
    import_version = models.PositiveIntegerField(default=0)
    source = models.ForeignKey(SourceFile, on_delete=models.PROTECT, related_name="tables", null=True)
    # How a table without a file was made: {"how", "of": ids of tables, "options", "seen": their revisions}.
    origin = models.JSONField(null=True)
    # The job that brings its rows, part by part, until all are there.
    arriving = models.ForeignKey("Job", on_delete=models.CASCADE, null=True, related_name="+")
    row_origins = models.BinaryField(null=True)  # the key of each row of a derived table, as compressed int64
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["created"]


class Variable(models.Model):
    """A variable as it was imported; what is said of it since, and what is derived of it, is in its table's state."""

    table = models.ForeignKey(Table, on_delete=models.CASCADE, related_name="variables")
    import_version = models.PositiveIntegerField(default=0)
    position = models.PositiveIntegerField()
    symbol = models.CharField(max_length=60)
    label = models.TextField()
    unit = models.CharField(max_length=60, blank=True)
    kind = models.CharField(max_length=12)
    levels = models.JSONField(default=list)
    missing_codes = models.JSONField(default=list)
    missing_counts = models.JSONField(default=dict)
    n_missing = models.PositiveIntegerField(default=0)
    decimals = models.PositiveSmallIntegerField(null=True)
    lower = models.FloatField(null=True)  # bounds of what the variable can be
    upper = models.FloatField(null=True)
    note = models.TextField(blank=True)
    # Whether zero means none, limits of detection and specification: what readings ask for by name.
    properties = models.JSONField(default=dict)
    shape = models.JSONField(default=list)  # heights from 0 to 1 for the small picture beside the name

    class Meta:
        ordering = ["position"]
        constraints = [models.UniqueConstraint(fields=["table", "import_version", "symbol"], name="one_symbol_each")]


class Chunk(models.Model):
    """65,536 rows of one variable: an Arrow stream, compressed."""

    variable = models.ForeignKey(Variable, on_delete=models.CASCADE, related_name="chunks")
    position = models.PositiveIntegerField()
    data = models.BinaryField()

    class Meta:
        ordering = ["position"]
        constraints = [models.UniqueConstraint(fields=["variable", "position"], name="one_chunk_each")]


class PartRecord(models.Model):
    """What was found in one part of a long table, or a sample of a variable; key: a digest of all that it stands on.
    lasting: it came with the part itself; others make room for newer ones."""

    table = models.ForeignKey(Table, on_delete=models.CASCADE, related_name="part_records")
    key = models.CharField(max_length=64, unique=True)
    data = models.BinaryField()
    lasting = models.BooleanField(default=False)


class ClassStructure(models.Model):
    """Classes with a name, to be used on other variables of the study."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    study = models.ForeignKey(Study, on_delete=models.CASCADE, related_name="class_structures")
    name = models.CharField(max_length=100)
    boundaries = models.JSONField()
    closed = models.CharField(max_length=5)

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["study", "name"], name="one_class_structure_each")]


class Upload(models.Model):
    """A file that was brought in and is being looked at; nothing of it is a table yet."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    study = models.ForeignKey(Study, on_delete=models.CASCADE, related_name="uploads")
    file = models.ForeignKey(SourceFile, on_delete=models.PROTECT, related_name="+")
    # The table that is to be read again from its own file; None for a new one.
    again = models.ForeignKey(Table, on_delete=models.CASCADE, null=True, related_name="+")
    created = models.DateTimeField(auto_now_add=True)


class Job(models.Model):
    """Long work that can be watched and stopped. preview: of a file that is only looked at, what was found in it;
    answer: what else was asked for, as it is told."""

    class Purpose(models.TextChoices):
        STORE = "store"
        LOOK = "look"
        MAKE = "make"
        WRITE = "write"
        FIT = "fit"  # a routine beside a file
        RUN = "run"
        OPEN = "open"  # a package

    class State(models.TextChoices):
        WAITING = "waiting"
        RUNNING = "running"
        DONE = "done"
        STOPPED = "stopped"
        FAILED = "failed"
        INTERRUPTED = "interrupted"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    study = models.ForeignKey(Study, on_delete=models.CASCADE, related_name="jobs")
    author = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+", null=True)
    upload = models.ForeignKey(Upload, on_delete=models.SET_NULL, null=True, related_name="+")
    purpose = models.CharField(max_length=5, choices=Purpose, default=Purpose.STORE)
    name = models.CharField(max_length=200)
    choices = models.JSONField(default=dict)
    state = models.CharField(max_length=12, choices=State, default=State.WAITING)
    progress = models.FloatField(default=0)
    stop_requested = models.BooleanField(default=False)
    tries = models.PositiveSmallIntegerField(default=0)  # how often it was begun
    touched = models.DateTimeField(auto_now=True)
    table = models.ForeignKey(Table, on_delete=models.SET_NULL, null=True, related_name="+")
    preview = models.JSONField(null=True)
    answer = models.JSONField(null=True)
    problem = models.JSONField(null=True)
