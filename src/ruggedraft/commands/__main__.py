"""`python -m ruggedraft.commands copy|verify|compare …`, reached as `./raft copy` and so on.

Each is imported when it is asked for: what the others need would be most of what starting one costs.
"""

import sys
from importlib import import_module

COMMANDS = ("copy", "verify", "compare")

sys.exit(import_module(f"ruggedraft.commands.{COMMANDS[COMMANDS.index(sys.argv[1])]}").main(sys.argv[2:]))
