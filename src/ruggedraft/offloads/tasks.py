from ruggedraft.core.runs import RunKind
from ruggedraft.runs.kinds import runs_are_carried_out_by

from . import feeding, joining, running

runs_are_carried_out_by(RunKind.OFFLOAD, running.carry_out, running.break_off)
runs_are_carried_out_by(RunKind.FEED, feeding.carry_out, feeding.break_off)
runs_are_carried_out_by(RunKind.JOIN, joining.carry_out, joining.break_off)
