from django.apps import AppConfig


class MakingRoomConfig(AppConfig):
    name = "ruggedraft.making_room"
    verbose_name = "making room"
