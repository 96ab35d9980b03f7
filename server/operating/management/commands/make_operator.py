from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from server.accounts.models import User


class Command(BaseCommand):
    help = "Let somebody with an account run this server: see people, invite, set how much each may keep."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("name")

    def handle(self, *args: Any, **options: Any) -> None:
        if not User.objects.filter(username=options["name"], guest=False).update(is_staff=True):
            raise CommandError(f"Nobody here is called {options['name']}.")
        self.stdout.write(f"{options['name']} runs this server now.")
