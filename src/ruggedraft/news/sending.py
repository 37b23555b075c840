"""Sending what is in line: e-mail to people, signed requests to other programs. What fails is tried again."""

import json
import smtplib
from collections.abc import Callable
from typing import Any

import urllib3
from django.core.mail import EmailMessage
from django.db import transaction

from ruggedraft.clearing.roll_cases import RollCase
from ruggedraft.core.errors import RaftError
from ruggedraft.core.news import NewsKind, next_try, signed_headers
from ruggedraft.core.packages import package_name
from ruggedraft.core.redundancy import RollState
from ruggedraft.core.stores import StoreKind
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.snapshot import one_moment
from ruggedraft.rolls.models import BesideCopy
from ruggedraft.rolls.readings import CopyStanding

from .happening import judged_roll, verified_words
from .models import News, Sending
from .secrets import opened

_LONGEST_ANSWER = 1024
_TIMEOUT_S = 10.0
MOST_CLIPS = 1000
"""That a program is told of by name."""
_AT_A_TIME = 10
"""What waits for others' answers is little: what happens meanwhile is told soon."""


def send_due(send_mail: Callable[[Sending], None] | None = None) -> int:
    """Try everything that is due once. Returns how many were sent."""
    sent = 0
    rows = Sending.objects.filter(due_at__lte=now()).select_related("news__production", "person", "hook")
    for one in rows.order_by("due_at")[:_AT_A_TIME]:
        sent += _try(one, send_mail or _mail)
    return sent


def _try(one: Sending, send_mail: Callable[[Sending], None]) -> bool:
    if _is_over(one):
        one.due_at, one.trouble = None, "it was over before it was sent"
        one.save(update_fields=["due_at", "trouble"])
        return False
    trouble = _trouble_with(one, send_mail)
    if not trouble:
        one.due_at, one.sent_at, one.trouble = None, now(), ""
        one.save(update_fields=["due_at", "sent_at", "trouble"])
        return True
    one.tries += 1
    wait = None if trouble == _GONE else next_try(one.tries)
    one.trouble, one.due_at = trouble[:300], now() + wait if wait else None
    one.save(update_fields=["tries", "trouble", "due_at"])
    if wait is None:
        _note_given_up(one)
    return False


def _is_over(one: Sending) -> bool:
    """Nobody is told that a roll is verified which is not, even where that it is not was not told yet."""
    if one.news.kind == NewsKind.VERIFIED:
        case = judged_roll(one.news)
        return one.news.over_at is not None or case is None or case.state is not RollState.SAFE
    return one.news.over_at is not None and not one.escalation


def _trouble_with(one: Sending, send_mail: Callable[[Sending], None]) -> str:
    """Why it could not be sent; empty where it was."""
    try:
        if one.hook is not None:
            return _post(one)
        send_mail(one)
    except (OSError, smtplib.SMTPException, urllib3.exceptions.HTTPError, RaftError) as error:
        return f"{type(error).__name__}: {error}"
    return ""


@transaction.atomic
def _note_given_up(one: Sending) -> None:
    to = f"program '{one.hook.name}'" if one.hook else f"{one.person.shown_name}" if one.person else "nobody"
    words = f"News of {one.news.subject} could not be sent to {to}, and is not tried again: {one.trouble}"
    write("news not sent", one.news.subject, words, person=None, production=one.news.production_id)


def _mail(one: Sending) -> None:
    if one.person is None:
        return
    news = one.news
    head = "Nobody has seen this yet: " if one.escalation else ""
    subject = f"{news.production.name}: {head}{news.kind}, {news.subject}".replace("\n", " ")[:180]
    told = f"Told {news.at:%Y-%m-%d %H:%M} UTC. It may have changed since: look at the page."
    body = f"{_sentence(news, judged_roll(news))}\n\n{told}"
    EmailMessage(subject, body, to=[one.person.email]).send()


_GONE = "it answers that it is gone (410)"
_http = urllib3.PoolManager(timeout=_TIMEOUT_S, retries=False, maxsize=2)


def _post(one: Sending) -> str:
    """Only that it was taken in is believed of an answer; what it says is not read, and nothing is followed."""
    if one.hook is None or one.hook.ended_at is not None:
        return ""
    body = json.dumps(said_to_programs(one.news)).encode()
    headers = signed_headers(opened(one.hook), str(one.news.uuid), int(now().timestamp()), body)
    answer = _http.request(
        "POST", one.hook.address, body=body, headers={**headers, "content-type": "application/json"},
        redirect=False, preload_content=False,
    )  # fmt: skip
    answer.read(_LONGEST_ANSWER)
    answer.release_conn()
    if answer.status == 410:
        return _GONE
    return "" if 200 <= answer.status < 300 else f"it answered {answer.status}"


@one_moment()
def said_to_programs(news: News) -> dict[str, Any]:
    """What another program gets, as JSON; docs/webhooks.md shows it."""
    case = judged_roll(news)
    said: dict[str, Any] = {
        "type": news.kind.replace(" ", "_"),
        "timestamp": news.at.isoformat(),
        "data": {"production": news.production.slug, "subject": news.subject, "sentence": _sentence(news, case)},
    }
    if case is not None:
        roll = case.standing.roll
        clips = roll.files.filter(is_clip=True).order_by("path").values_list("path", flat=True)[:MOST_CLIPS]
        copies = [_copy(one) for one in _counting(case)]
        said["data"]["roll"] = {"tag": roll.tag, "copies": copies, "clips": list(clips)}
    return said


def _sentence(news: News, case: RollCase | None) -> str:
    """What is said of a rule is of the rule as it is when it is sent: it may have been loosened since it was told."""
    if case is None or news.kind != NewsKind.VERIFIED:
        return news.sentence
    return verified_words(case.standing.roll, news.production.rule.ruled())


def _counting(case: RollCase) -> list[CopyStanding]:
    """No other copy is named: a program would take its folder for good."""
    return [one for one in case.standing.copies if one.facts in case.verdict.counting]


def _copy(copy: CopyStanding) -> dict[str, Any]:
    lists = BesideCopy.objects.filter(copy=copy.id).order_by("path").values_list("path", flat=True)
    told = {"store": copy.store.name, "folder": copy.folder, "lists": list(lists)}
    return told | {"package": package_name(copy.folder)} if copy.store.kind == StoreKind.PACKAGES else told
