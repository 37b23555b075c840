from django.apps import AppConfig


class DeliveringConfig(AppConfig):
    name = "ruggedraft.delivering"
    verbose_name = "delivering"
