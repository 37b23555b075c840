"""Making an account that can be handed out, and having it put on paper."""

import hashlib
import zlib

from django.db import transaction

from ruggedraft.core.accounts import AccountOn
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.models import JournalEntry
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.productions.models import Production

from ..gathering import gathered
from ..models import Edition, Paper
from ..queries import FACTS


@transaction.atomic
def make_account(person: Person, production: Production, on: AccountOn, about: str) -> Edition:
    """The account of something as it is now: the last edition, where nothing has changed since, or a new one.

    Raises NotThere.
    """
    require(person, May.SEE_WORK, production.pk)
    hold_still(production.pk)
    account = gathered(production, on, about)
    facts: bytes = FACTS.dump_json(account)
    digest = hashlib.sha256(facts).hexdigest()
    last = Edition.objects.filter(production=production, on=on, about=account.about).order_by("-number").first()
    if last and last.sha256 == digest:
        return last
    head = JournalEntry.objects.order_by("-id").first()
    number = (last.number if last else 0) + 1
    made = Edition.objects.create(
        production=production, on=on, about=account.about, number=number, at=now(), by=person, sha256=digest,
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
