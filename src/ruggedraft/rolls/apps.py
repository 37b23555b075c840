from django.apps import AppConfig


class RollsConfig(AppConfig):
    name = "ruggedraft.rolls"
    verbose_name = "rolls"
