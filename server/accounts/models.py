from django.contrib.auth.models import AbstractUser
from django.db import models


class User(AbstractUser):
    """Somebody who signs in with a name and a password."""

    # Which statistics and percent points a reading lists: {"statistics": ids or null, "percents": numbers}.
    listed = models.JSONField(default=dict, blank=True)
