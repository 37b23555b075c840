from django.apps import AppConfig


class KitConfig(AppConfig):
    name = "ruggedraft.kit"
    verbose_name = "kit"
