from ruggedraft.core.runs import RunKind
from ruggedraft.runs.kinds import runs_are_carried_out_by

from . import running

runs_are_carried_out_by(RunKind.CHECK, running.carry_out, running.break_off, running.used_by)
