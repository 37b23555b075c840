from django.apps import AppConfig


class CertificatesConfig(AppConfig):
    name = "ruggedraft.certificates"
    verbose_name = "certificates"
