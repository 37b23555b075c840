from ruggedraft.core.runs import RunKind
from ruggedraft.runs import sharing
from ruggedraft.runs.kinds import runs_are_carried_out_by

from . import feeding, joining, running
from .devices import shown_by_offloads, used_by

runs_are_carried_out_by(RunKind.OFFLOAD, running.carry_out, running.break_off, used_by)
runs_are_carried_out_by(RunKind.FEED, feeding.carry_out, feeding.break_off)
runs_are_carried_out_by(RunKind.JOIN, joining.carry_out, joining.break_off)
if shown_by_offloads not in sharing.learned_from:
    sharing.learned_from.append(shown_by_offloads)
