from django.apps import AppConfig


class ViewsConfig(AppConfig):
    name = "ruggedraft.views"
    label = "views"
