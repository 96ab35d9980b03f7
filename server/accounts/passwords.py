"""What a password must not be, besides what Django's own validators say."""

from typing import Any

from django.core.exceptions import ValidationError

LEAST_DIFFERENT = 5


class DifferentCharactersValidator:
    """Refuses a password of few different characters, however long."""

    def validate(self, password: str, user: Any = None) -> None:
        if len(set(password)) < LEAST_DIFFERENT:
            raise ValidationError(self.get_help_text(), code="few-characters")

    def get_help_text(self) -> str:
        return f"A password needs at least {LEAST_DIFFERENT} different characters."
