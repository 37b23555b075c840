from django.apps import AppConfig


class ReturningConfig(AppConfig):
    name = "ruggedraft.returning"
    verbose_name = "returning"
