from django.apps import AppConfig


class StoresConfig(AppConfig):
    name = "ruggedraft.stores"
    verbose_name = "stores"
