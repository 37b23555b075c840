from django.apps import AppConfig


class KeywordsConfig(AppConfig):
    name = "ruggedraft.keywords"
    verbose_name = "keywords"
