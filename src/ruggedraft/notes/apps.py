from django.apps import AppConfig


class NotesConfig(AppConfig):
    name = "ruggedraft.notes"
    label = "notes"
