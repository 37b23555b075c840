from django.apps import AppConfig


class ProductionsConfig(AppConfig):
    name = "ruggedraft.productions"
    verbose_name = "productions"
