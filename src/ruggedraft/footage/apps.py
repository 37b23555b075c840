from django.apps import AppConfig


class FootageConfig(AppConfig):
    name = "ruggedraft.footage"
    verbose_name = "footage"
