"""The roles, in words for whoever gives them."""

from .models import Role

ROLES = (
    (Role.WRANGLER.value, Role.WRANGLER.label, "offloads, checks, signs, waives and reports losses"),
    (Role.ASSISTANT.value, Role.ASSISTANT.label, "sees everything and changes nothing"),
    (Role.SUPERVISOR.value, Role.SUPERVISOR.label, "does all that, and sets up drives, rule and people"),
)
"""role, what it is called, what somebody in it does"""
