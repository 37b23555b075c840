"""Makes cards with real, small media: every layout and every trap. The same arguments give the same bytes."""

from .card import CardSheet, add_file, format_card, make_card
from .layouts import (
    add_action_clips,
    add_avchd,
    add_bpav,
    add_clips,
    add_contents_folders,
    add_contents_list,
    add_m4root,
    add_rig_clips,
    add_sequence,
    add_sound,
    add_stills,
)

__all__ = [
    "CardSheet",
    "add_action_clips",
    "add_avchd",
    "add_bpav",
    "add_clips",
    "add_contents_folders",
    "add_contents_list",
    "add_file",
    "add_m4root",
    "add_rig_clips",
    "add_sequence",
    "add_sound",
    "add_stills",
    "format_card",
    "make_card",
]
