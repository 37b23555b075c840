from django.apps import AppConfig


class NewsConfig(AppConfig):
    name = "ruggedraft.news"
    label = "news"
