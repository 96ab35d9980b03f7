from django.apps import AppConfig


class StudiesConfig(AppConfig):
    name = "server.studies"
    label = "studies"
