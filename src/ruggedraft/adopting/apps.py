from django.apps import AppConfig


class AdoptingConfig(AppConfig):
    name = "ruggedraft.adopting"
    verbose_name = "adopting"
