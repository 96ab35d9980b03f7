from django.contrib.auth.models import AbstractUser
from django.db import models


class User(AbstractUser):
    """Somebody who signs in with a name and a password, or a guest who came by a link."""

    guest = models.BooleanField(default=False)
    # Which statistics and percent points readings list in each study, and reasons that are offered: see schemas.Listed.
    listed = models.JSONField(default=dict, blank=True)


class Attempt(models.Model):
    """Something that is counted where it comes too often, such as a wrong password."""

    kind = models.CharField(max_length=20)
    address = models.CharField(max_length=64)
    name = models.CharField(max_length=150)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        indexes = [models.Index(fields=["kind", "at"], name="attempt_kind_at")]


class Token(models.Model):
    """A key with which a program acts for a person. Only its digest is kept, so that it can be shown once alone."""

    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="tokens")
    name = models.CharField(max_length=100)
    digest = models.CharField(max_length=64, unique=True)
    ending = models.CharField(max_length=4)  # by which a person knows it again
    created = models.DateTimeField(auto_now_add=True)
    used = models.DateTimeField(null=True)

    class Meta:
        ordering = ["created"]
