from django.apps import AppConfig


class SetsConfig(AppConfig):
    name = "ruggedraft.sets"
    verbose_name = "sets for discs and tapes"
