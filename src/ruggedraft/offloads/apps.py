from django.apps import AppConfig


class OffloadsConfig(AppConfig):
    name = "ruggedraft.offloads"
    verbose_name = "offloads"
