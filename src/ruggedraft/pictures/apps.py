from django.apps import AppConfig


class PicturesConfig(AppConfig):
    name = "ruggedraft.pictures"
    label = "pictures"
