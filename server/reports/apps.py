from django.apps import AppConfig


class ReportsConfig(AppConfig):
    name = "server.reports"
    label = "reports"
