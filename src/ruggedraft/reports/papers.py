"""Putting accounts on paper, apart from whoever asked: it may take a while."""

import subprocess
import sys
import threading
import time
from datetime import timedelta

import psycopg
from django.conf import settings
from django.db import transaction
from django.db.models import QuerySet

from ruggedraft.accounts.models import Edition, Paper
from ruggedraft.accounts.queries import read_edition
from ruggedraft.core.errors import RaftError
from ruggedraft.journal.clock import now
from ruggedraft.live.locks import is_held, try_lock
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed, connection_words
from ruggedraft.pictures.keeping import pictures_kept

from .documents.account import account_paper

_KIND, _ONE = 0x50617065, 0
"""Advisory lock: one process makes papers, so that two do not fill the memory."""
_TELL_EVERY_S = 0.5


def have_papers_made() -> None:
    """Once what was asked for is written down, by a process of its own, which ends when there is no more to do."""
    transaction.on_commit(lambda: threading.Thread(target=_start, daemon=True).start())


def _start() -> None:
    subprocess.run([sys.executable, str(settings.ROOT / "manage.py"), "make_papers"], check=False)


def make_papers() -> int:
    """Make every paper that somebody waits for. How many; those that another process makes are not counted."""
    made = 0
    while _waiting().exists():  # asked again after the lock is let go: who asked meanwhile did not get it
        with psycopg.connect(**connection_words()) as hold:
            if not try_lock(hold, _KIND, _ONE):
                return made
            while paper := _waiting().order_by("asked_at", "pk").first():
                _make(paper)
                made += 1
    return made


def being_made() -> bool:
    """Whether a process makes papers now."""
    return is_held(_KIND, _ONE)


_TO_BEGIN = timedelta(seconds=30)


def is_on_its_way(paper: Paper, *, busy: bool) -> bool:
    """Whether it is being made, or is about to be. busy: a process makes papers now"""
    return not paper.made and not paper.trouble and (busy or now() - paper.asked_at < _TO_BEGIN)


def _waiting() -> QuerySet[Paper]:
    return Paper.objects.filter(made=False, trouble="").defer("content")


def _make(paper: Paper) -> None:
    edition = Edition.objects.select_related("by", "production").get(pk=paper.edition_id)
    try:
        account = read_edition(edition)
        Paper.objects.filter(pk=paper.pk).update(of=account.account.files)
        content, trouble = account_paper(account, pictures_kept().get, _Telling(paper).tell), ""
    except (RaftError, OSError, ValueError) as error:
        content, trouble = None, str(error)[:300]
    with transaction.atomic():
        Paper.objects.filter(pk=paper.pk).update(content=content, made=content is not None, trouble=trouble)
        changed(Topic.ACCOUNTS, production=edition.production_id)


class _Telling:
    """How far a paper is, not more often than anybody looks."""

    def __init__(self, paper: Paper) -> None:
        self._paper, self._last = paper, 0.0

    def tell(self, files: int) -> None:
        if time.monotonic() - self._last >= _TELL_EVERY_S:
            self._last = time.monotonic()
            Paper.objects.filter(pk=self._paper.pk).update(done=files)
