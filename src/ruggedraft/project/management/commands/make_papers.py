from typing import Any

from django.core.management.base import BaseCommand

from ruggedraft.reports.papers import make_papers


class Command(BaseCommand):
    help = "Put on paper what somebody asked for, and end."
    requires_system_checks = ()  # `prepare` has made them; they read the whole web server

    def handle(self, *args: Any, **options: Any) -> None:
        make_papers()
