from django.apps import AppConfig


class RunsConfig(AppConfig):
    name = "ruggedraft.runs"
    verbose_name = "runs"
