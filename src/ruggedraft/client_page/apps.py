from django.apps import AppConfig


class ClientPageConfig(AppConfig):
    name = "ruggedraft.client_page"
    verbose_name = "client page"
