from ruggedraft.core.runs import RunKind
from ruggedraft.runs.kinds import runs_are_carried_out_by

from . import running

runs_are_carried_out_by(RunKind.MAKE_ROOM, running.carry_out, running.break_off)
