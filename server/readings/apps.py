from django.apps import AppConfig


class ReadingsConfig(AppConfig):
    name = "server.readings"
    label = "readings"
