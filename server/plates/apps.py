from django.apps import AppConfig


class PlatesConfig(AppConfig):
    name = "server.plates"
    label = "plates"
