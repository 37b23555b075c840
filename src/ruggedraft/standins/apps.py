from django.apps import AppConfig


class StandinsConfig(AppConfig):
    name = "ruggedraft.standins"
    verbose_name = "stand-ins"
