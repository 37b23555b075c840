from ruggedraft.core.runs import RunKind
from ruggedraft.runs.kinds import runs_are_carried_out_by

from . import removing

runs_are_carried_out_by(RunKind.REMOVAL, removing.carry_out, removing.break_off)
