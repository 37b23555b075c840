from django.apps import AppConfig


class ShiftsConfig(AppConfig):
    name = "ruggedraft.shifts"
    label = "shifts"
