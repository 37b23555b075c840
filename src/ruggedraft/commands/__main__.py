"""`python -m ruggedraft.commands copy|verify …`, reached as `./raft copy` and `./raft verify`."""

import sys

from . import copy, verify

COMMANDS = {"copy": copy.main, "verify": verify.main}

sys.exit(COMMANDS[sys.argv[1]](sys.argv[2:]))
