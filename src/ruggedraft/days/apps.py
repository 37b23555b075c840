from django.apps import AppConfig


class DaysConfig(AppConfig):
    name = "ruggedraft.days"
    label = "days"
