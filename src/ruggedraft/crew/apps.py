from django.apps import AppConfig


class CrewConfig(AppConfig):
    name = "ruggedraft.crew"
    verbose_name = "crew"
