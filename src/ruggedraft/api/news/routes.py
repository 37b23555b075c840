"""News that matters: the list, what somebody wants to be told of, and other programs that are told."""

from datetime import datetime

from django.http import HttpRequest
from ninja import Path, Router
from pydantic import BaseModel

from ruggedraft.core.news import DEFAULT_CHOICES, GRAVE, NewsKind, Way
from ruggedraft.live.snapshot import one_moment
from ruggedraft.news.acts.choose_news import choose_news, set_escalation
from ruggedraft.news.acts.say_seen import say_seen
from ruggedraft.news.acts.tell_program import tell_no_more, tell_program
from ruggedraft.news.models import Hook, News, Sending
from ruggedraft.news.queries import choice_of, hooks_of, last_sendings, news_of, rules_of
from ruggedraft.news.telling import choices_of
from ruggedraft.productions.queries import production_named

from ..shapes import REFUSED, Done
from ..who import who

router = Router(tags=["news"])
programs = Router(tags=["news"])
"""What only somebody signed in may say, and no PIN: where news goes."""


class NewsOut(BaseModel):
    """over: it is not so any more. seen_by: who said first that they know; empty while nobody has

    escalated: supervisors and leads were told, as nobody had
    """

    id: int
    kind: NewsKind
    grave: bool
    subject: str
    sentence: str
    at: datetime
    over: bool
    seen_by: str
    escalated: bool

    @classmethod
    def of(cls, one: News) -> "NewsOut":
        kind = NewsKind(one.kind)
        return cls(
            id=one.pk, kind=kind, grave=kind in GRAVE, subject=one.subject, sentence=one.sentence, at=one.at,
            over=one.over_at is not None, seen_by=one.seen_by.shown_name if one.seen_by else "",
            escalated=one.escalated_at is not None,
        )  # fmt: skip


class ProgramOut(BaseModel):
    """trouble: why the last message did not reach it; empty where it did, or none was sent."""

    id: int
    name: str
    address: str
    kinds: list[NewsKind]
    plan: str
    trouble: str

    @classmethod
    def of(cls, hook: Hook, last: Sending | None) -> "ProgramOut":
        kinds = [NewsKind(kind) for kind in hook.kinds]
        plan, trouble = hook.plan.name if hook.plan else "", last.trouble if last else ""
        return cls(id=hook.pk, name=hook.name, address=hook.address, kinds=kinds, plan=plan, trouble=trouble)


class NewsPageOut(BaseModel):
    """news: newest first. choices: yours. quiet_from, quiet_until: hours; equal: none

    escalate_minutes: after which others are told of grave news that nobody has seen; null: never
    """

    news: list[NewsOut]
    choices: dict[NewsKind, list[Way]]
    quiet_from: int
    quiet_until: int
    email: str
    escalate_minutes: int | None
    programs: list[ProgramOut]


class SeenIn(BaseModel):
    ids: list[int]


class ChoicesIn(BaseModel):
    choices: dict[NewsKind, list[Way]]
    quiet_from: int
    quiet_until: int
    email: str


class EscalationIn(BaseModel):
    minutes: int | None


class ProgramIn(BaseModel):
    """plan: only what is about rolls of its cameras; empty: everything"""

    name: str
    address: str
    kinds: list[NewsKind]
    plan: str = ""


class ProgramSecret(BaseModel):
    """secret: what the program checks messages with (Standard Webhooks, version 1); it is told this once."""

    secret: str


@router.get("", response=NewsPageOut)
@one_moment()
def news(request: HttpRequest, production: Path[str]) -> NewsPageOut:
    here, me = production_named(production), who(request)
    mine, hooks = choice_of(me, here), hooks_of(here)
    last = last_sendings(hooks)
    return NewsPageOut(
        news=[NewsOut.of(one) for one in news_of(here)],
        choices={**{kind: list(ways) for kind, ways in DEFAULT_CHOICES.items()},
                 **{kind: list(ways) for kind, ways in choices_of(mine).items()}},
        quiet_from=mine.quiet_from, quiet_until=mine.quiet_until, email=me.email,
        escalate_minutes=rules_of(here).escalate_minutes,
        programs=[ProgramOut.of(one, last.get(one.pk)) for one in hooks],
    )  # fmt: skip


@router.post("/seen", response={200: Done, **REFUSED})
def seen(request: HttpRequest, production: Path[str], given: SeenIn) -> Done:
    """Say that you know, so that nobody else is told."""
    say_seen(who(request), production_named(production), given.ids)
    return Done()


@router.put("/mine", response={200: Done, **REFUSED})
def choose(request: HttpRequest, production: Path[str], given: ChoicesIn) -> Done:
    """What you are told of, and how."""
    choose_news(
        who(request), production_named(production), given.choices, quiet_from=given.quiet_from,
        quiet_until=given.quiet_until, email=given.email,
    )  # fmt: skip
    return Done()


@programs.put("/escalation", response={200: Done, **REFUSED})
def escalation(request: HttpRequest, production: Path[str], given: EscalationIn) -> Done:
    set_escalation(who(request), production_named(production), given.minutes)
    return Done()


@programs.post("", response={200: ProgramSecret, **REFUSED})
def tell(request: HttpRequest, production: Path[str], given: ProgramIn) -> ProgramSecret:
    here = production_named(production)
    secret = tell_program(
        who(request), here, name=given.name, address=given.address, kinds=given.kinds, plan=given.plan
    )
    return ProgramSecret(secret=secret)


@programs.delete("/{int:hook_id}", response={200: Done, **REFUSED})
def end(request: HttpRequest, production: Path[str], hook_id: int) -> Done:
    tell_no_more(who(request), production_named(production), hook_id)
    return Done()
