from django.apps import AppConfig


class IntakeConfig(AppConfig):
    name = "ruggedraft.intake"
    verbose_name = "intake"
