"""Making an account that can be handed out, and having it put on paper."""

import hashlib
import zlib
from datetime import datetime

from django.db import transaction

from ruggedraft.core.accounts import Account, AccountOn
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.models import JournalEntry
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.live.snapshot import one_moment
from ruggedraft.productions.locking import hold_still
from ruggedraft.productions.models import Production

from ..gathering import gathered
from ..models import Edition, Paper
from ..queries import FACTS


def make_account(person: Person, production: Production, on: AccountOn, about: str) -> Edition:
    """The account of something as it is now: the last edition, where nothing has changed since, or a new one.

    It is gathered as of one moment, while others go on. Raises NotThere, ActRefused where it is too much.
    """
    require(person, May.SEE_WORK, production.pk)
    with one_moment():
        moment, head = now(), JournalEntry.objects.order_by("-id").first()
        account = gathered(production, on, about)
    return _kept(person, production, account, moment, head)


@transaction.atomic
def _kept(
    person: Person, production: Production, account: Account, moment: datetime, head: JournalEntry | None
) -> Edition:
    hold_still(production.pk)
    facts: bytes = FACTS.dump_json(account)
    digest, on = hashlib.sha256(facts).hexdigest(), account.on
    last = Edition.objects.filter(production=production, on=on, about=account.about).order_by("-number").first()
    if last and (last.sha256 == digest or last.at > moment):  # the same, or somebody was quicker with something newer
        return last
    number = (last.number if last else 0) + 1
    made = Edition.objects.create(
        production=production, on=on, about=account.about, number=number, at=moment, by=person, sha256=digest,
        facts=zlib.compress(facts), head=head.pk if head else 0, seal=head.seal if head else "",
    )  # fmt: skip
    words = f"The account of {on} {account.about} was made, edition {number}: {account.files:,} files."
    detail: dict[str, object] = {"edition": made.pk, "sha256": digest}
    write("make account", account.about, words, person=person, production=production.pk, detail=detail)
    changed(Topic.ACCOUNTS, production=production.pk)
    return made


@transaction.atomic
def ask_paper(person: Person, edition: Edition) -> Paper:
    """Have an edition put on paper, unless it is. What went wrong or was broken off the last time is begun again."""
    require(person, May.SEE_WORK, edition.production_id)
    paper, _ = Paper.objects.get_or_create(edition=edition, defaults={"asked_at": now()})
    if not paper.made:
        paper.trouble, paper.done, paper.asked_at = "", 0, now()
        paper.save(update_fields=["trouble", "done", "asked_at"])
    return paper
