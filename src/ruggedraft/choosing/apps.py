from django.apps import AppConfig


class ChoosingConfig(AppConfig):
    name = "ruggedraft.choosing"
    label = "choosing"
