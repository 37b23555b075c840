"""A rule in words, and the one that a set of stores suggests."""

from collections.abc import Sequence

from ..wording import counted
from .facts import Rule, StoreFacts, device_groups


def proposed_rule(stores: Sequence[StoreFacts]) -> Rule:
    """What copies on all of these could fulfil, and never less than two copies on two devices.

    At least two copies on separate devices before anything is erased, three of them with one off-site where that can be
    had: common practice, no published source.
    """
    able = [store for store in stores if store.counts]
    devices = len(device_groups(able))
    offsite = any(store.offsite for store in able)
    copies = 3 if devices >= 3 else 2
    return Rule(copies=copies, devices=copies if devices >= 3 else 2, offsite=1 if offsite else 0)


def rule_sentence(rule: Rule) -> str:
    """Such as "2 copies on 2 devices, each read back"."""
    parts = [f"{counted(rule.copies, 'copy', 'copies')} on {counted(rule.devices, 'device')}"]
    if rule.offsite:
        parts.append(f"{rule.offsite} off-site")
    if rule.locations > 1:
        parts.append(f"in {rule.locations} places")
    if rule.media > 1:
        parts.append(f"of {rule.media} kinds")
    parts.append(f"each {rule.level.words}" if rule.copies > 1 else rule.level.words)
    if rule.looked_at:
        parts.append(f"{rule.looked_at:.0%} of the clips looked at")
    if rule.fresh:
        parts.append(f"read in the last {counted(rule.fresh.days, 'day')}")
    if rule.shelf:
        parts.append(f"on a shelf for {counted(rule.shelf.days, 'day')} at most")
    if rule.chosen_only:
        parts.append("of what was chosen")
    if rule.signers > 1:
        parts.append(f"signed by {rule.signers}")
    return ", ".join(parts)
