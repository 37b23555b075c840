"""The roles, in words for whoever gives them."""

from .models import Role

ROLES = (
    (Role.CLIENT.value, Role.CLIENT.label, "sees what is safe and what was delivered, and nothing of the cart"),
    (
        Role.ASSISTANT.value,
        Role.ASSISTANT.label,
        "sees everything, writes notes, says who has which card and drive",
    ),
    (Role.WRANGLER.value, Role.WRANGLER.label, "offloads, checks, signs, waives and reports losses"),
    (Role.LEAD.value, Role.LEAD.label, "does all that, and keeps the stores, readers and standing orders"),
    (Role.SUPERVISOR.value, Role.SUPERVISOR.label, "does all that, and sets up rule, productions and people"),
)
"""role, what it is called, what somebody in it does; those who may least come first"""
