from django.apps import AppConfig


class AccountsConfig(AppConfig):
    name = "ruggedraft.accounts"
    verbose_name = "accounts"
