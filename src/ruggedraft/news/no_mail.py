"""What stands for a mail server where none is set."""

from collections.abc import Sequence

from django.core.mail import EmailMessage
from django.core.mail.backends.base import BaseEmailBackend


class NoMail(BaseEmailBackend):
    def send_messages(self, email_messages: Sequence[EmailMessage]) -> int:
        """Raises OSError: nobody is told that something was sent."""
        raise OSError("no mail server is set: see RAFT_SMTP in docs/deploy.md")
