from django.core.management.base import BaseCommand

from server.accounts.services import demo_account
from server.demo.services import load_worked


class Command(BaseCommand):
    help = "Make the demo account and load its study, where they do not exist yet."

    def handle(self, *args: object, **options: object) -> None:
        load_worked(demo_account())
