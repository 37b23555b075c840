from django.apps import AppConfig


class JournalConfig(AppConfig):
    name = "ruggedraft.journal"
    verbose_name = "journal"
