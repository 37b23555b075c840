from django.apps import AppConfig


class LiveConfig(AppConfig):
    name = "ruggedraft.live"
    verbose_name = "live"
