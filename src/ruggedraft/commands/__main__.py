"""`python -m ruggedraft.commands copy|verify|compare …`, reached as `./raft copy` and so on."""

import sys

from . import compare, copy, verify

COMMANDS = {"copy": copy.main, "verify": verify.main, "compare": compare.main}

sys.exit(COMMANDS[sys.argv[1]](sys.argv[2:]))
