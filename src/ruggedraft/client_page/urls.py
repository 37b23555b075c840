from django.urls import path, register_converter
from django.urls.converters import PathConverter, StringConverter

from . import views


class AnyName(PathConverter):
    """A file may have any name, ends of lines too."""

    regex = r"[\s\S]+"


class AccountKind(StringConverter):
    """In which form an account is handed out."""

    regex = "pdf|csv|json"


register_converter(AnyName, "any")
register_converter(AccountKind, "kind")

urlpatterns = [
    path("faces/<str:name>", views.face),
    path("<str:carried>/", views.page),
    path("<str:carried>/files/<str:tag>/<any:name>", views.a_file),
    path("<str:carried>/production.jpg", views.emblem),
    path("<str:carried>/pictures/<int:file_id>", views.picture),
    path("<str:carried>/<str:tag>/checksums", views.checksums),
    path("<str:carried>/<str:tag>/addresses", views.addresses),
    path("<str:carried>/<str:tag>/account.<kind:kind>", views.account),
]
