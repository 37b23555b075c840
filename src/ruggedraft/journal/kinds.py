"""What the acts in the journal are about, so that the Log can be read by kind."""

from enum import StrEnum

from django.db.models import Q


class ActKind(StrEnum):
    """What an act is about."""

    MOVES = "moves"
    """a card went into a reader or came out of one"""
    CARDS = "cards"
    """which card this is, what is on it, who has it"""
    COPIES = "copies"
    """copying, reading again, joining; every act that no other kind names"""
    CLEARING = "clearing"
    """what a card's reuse rests on"""
    STORES = "stores"
    SET_UP = "set_up"
    PEOPLE = "people"


ACTS: dict[ActKind, tuple[str, ...]] = {
    ActKind.MOVES: ("insert", "remove"),
    ActKind.CARDS: (
        "introduce card", "recognise card", "use whole card", "compare card", "hand back", "set unattended",
        "acknowledge pull", "not ours", "ours after all", "give card",
        "ask release", "set aside", "use again", "trust card", "pass card", "note", "withdraw note",
        "take in report", "withdraw report", "mark", "take mark back", "ask decoding", "find break",
        "say of files", "write beside", "make account",
    ),
    ActKind.CLEARING: (
        "sign", "clear", "waive", "hold", "lift hold", "answer for gone", "refuse to sign", "revoke clearance",
        "refused act", "ask removal", "start removal", "deliver", "not delivered", "drop",
        "make delivery", "keep emblem", "forget emblem",
        "withdraw delivery", "receive delivery", "fetch", "leave papers", "divide rolls", "say shelf",
    ),
    ActKind.STORES: (
        "introduce store", "change credentials", "state device", "move device", "report loss", "report found",
        "choose backups", "back up", "pass device", "give order", "withdraw order", "set care",
        "search store", "compare stores", "stop comparison", "change store", "retire store", "use store again",
        "share store", "look into folder", "stop looking",
    ),
    ActKind.SET_UP: (
        "save plan", "save rig", "set clock", "change production", "add camera", "change camera", "change rule",
        "begin", "rebuild", "say reader", "name reader", "open production", "close production", "open production again",
        "let station in", "join station", "turn station away", "send unit", "end unit", "begin as unit", "join unit",
        "hand in", "set escalation", "tell program", "tell program no more", "news not sent",
        "new key",
    ),
    ActKind.PEOPLE: (
        "sign in", "sign out", "invite", "join crew", "password link", "new password", "give role", "take off",
        "take on again", "hand over", "take over", "make screen", "end screen", "set pin", "lock pin", "see news",
        "choose news", "begin codes", "end codes",
    ),
}  # fmt: skip
"""The acts of each kind but `COPIES`, which is all the others."""

_KINDS = {act: kind for kind, acts in ACTS.items() for act in acts}


def kind_of(act: str) -> ActKind:
    """
    >>> kind_of("insert").value, kind_of("finish check").value
    ('moves', 'copies')
    """
    return _KINDS.get(act, ActKind.COPIES)


def of_kind(kind: ActKind) -> Q:
    """The entries of a kind."""
    return ~Q(act__in=_KINDS) if kind is ActKind.COPIES else Q(act__in=ACTS[kind])
