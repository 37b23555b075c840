from django.apps import AppConfig


class UpkeepConfig(AppConfig):
    name = "ruggedraft.upkeep"
    verbose_name = "upkeep"
