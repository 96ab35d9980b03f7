from django.apps import AppConfig


class LedgerConfig(AppConfig):
    name = "server.ledger"
    label = "ledger"
