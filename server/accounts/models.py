from django.contrib.auth.models import AbstractUser


class User(AbstractUser):
    """Somebody who signs in with a name and a password."""
