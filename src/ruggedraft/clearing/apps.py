from django.apps import AppConfig


class ClearingConfig(AppConfig):
    name = "ruggedraft.clearing"
    verbose_name = "clearing"
