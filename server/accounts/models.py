from datetime import datetime, timedelta

from django.contrib.auth.models import AbstractUser
from django.db import models
from django.utils import timezone


class User(AbstractUser):
    """Somebody who signs in with a name and a password, or a guest who came by a link."""

    guest = models.BooleanField(default=False)
    demo = models.BooleanField(default=False)  # for looking around: everybody's, or one visitor's for a day
    # How much a person may keep, and have done at once; None for what holds for everybody.
    quota_mb = models.PositiveIntegerField(null=True)
    quota_tables = models.PositiveIntegerField(null=True)
    quota_jobs = models.PositiveIntegerField(null=True)
    # Which statistics and percent points readings list in each study, and reasons that are offered: see schemas.Listed.
    listed = models.JSONField(default=dict, blank=True)

    @property
    def own(self) -> bool:
        """Whether it is one person's, who signs in to it and stays."""
        return not self.guest and not self.demo


class OpenSession(models.Model):
    """A browser in which a person is signed in. seen: when it asked for something last, to the minute."""

    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="open_sessions")
    key = models.CharField(max_length=40, unique=True)
    address = models.CharField(max_length=64)
    browser = models.CharField(max_length=200)
    began = models.DateTimeField(auto_now_add=True)
    seen = models.DateTimeField()

    class Meta:
        ordering = ["-seen"]


class Event(models.Model):
    """Something that happened to an account, as its person and who runs the server may read it. name: of the account
    then, for one that is gone."""

    user = models.ForeignKey(User, on_delete=models.SET_NULL, null=True, related_name="events")
    name = models.CharField(max_length=150)
    kind = models.CharField(max_length=30)
    detail = models.CharField(max_length=300, blank=True)
    address = models.CharField(max_length=64)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-at", "-pk"]
        indexes = [models.Index(fields=["-at"], name="event_at")]


class Invitation(models.Model):
    """A link by which somebody makes an account, once. name: for whom, in words of who made it."""

    name = models.CharField(max_length=150)
    digest = models.CharField(max_length=64, unique=True)
    made_by = models.ForeignKey(User, on_delete=models.CASCADE, related_name="+")
    created = models.DateTimeField(auto_now_add=True)
    expires = models.DateTimeField()
    used_by = models.ForeignKey(User, on_delete=models.SET_NULL, null=True, related_name="+")

    class Meta:
        ordering = ["-created"]


class Letter(models.Model):
    """A mail that would have been sent, on a server without a mail service: who runs it hands it over."""

    to = models.CharField(max_length=300)
    subject = models.CharField(max_length=200)
    text = models.TextField()
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-at", "-pk"]


class Attempt(models.Model):
    """Something that is counted where it comes too often, such as a wrong password."""

    kind = models.CharField(max_length=20)
    address = models.CharField(max_length=64)
    name = models.CharField(max_length=150)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        indexes = [models.Index(fields=["kind", "at"], name="attempt_kind_at")]


def usual_end() -> datetime:
    """When a token ends unless its person says otherwise."""
    return timezone.now() + timedelta(days=90)


class Token(models.Model):
    """A key with which a program acts for a person. Only its digest is kept, so that it can be shown once alone. A
    reader changes nothing."""

    class Scope(models.TextChoices):
        READ = "read"
        WRITE = "write"

    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="tokens")
    name = models.CharField(max_length=100)
    digest = models.CharField(max_length=64, unique=True)
    ending = models.CharField(max_length=4)  # by which a person knows it again
    created = models.DateTimeField(auto_now_add=True)
    ends = models.DateTimeField(default=usual_end)
    scope = models.CharField(max_length=5, choices=Scope, default=Scope.WRITE)
    used = models.DateTimeField(null=True)

    class Meta:
        ordering = ["created"]
