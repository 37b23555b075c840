from django.apps import AppConfig


class UnitsConfig(AppConfig):
    name = "ruggedraft.units"
    label = "units"
