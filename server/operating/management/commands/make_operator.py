from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from server.accounts.models import User
from server.accounts.passwords import key_of
from server.accounts.services import name_is_free, without_password


class Command(BaseCommand):
    help = "Let somebody run this server: see people, invite, set how much each may keep. Makes the account if need be."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("name")

    def handle(self, *args: Any, **options: Any) -> None:
        name = options["name"]
        if name_is_free(name):
            key = key_of(without_password(name))
            self.stdout.write(f"Set the password of {name} within the hour, at /reset/{key} of this server.")
        if not User.objects.filter(username=name, guest=False, demo=False).update(is_staff=True):
            raise CommandError(f"Nobody here is called {name}.")
        self.stdout.write(f"{name} runs this server now.")
