from django.apps import AppConfig


class ChecksConfig(AppConfig):
    name = "ruggedraft.checks"
    verbose_name = "checks"
