"""Tests of the core alone: no database, no web server. RAFT_QUICK asks for the quick form (`./raft test core`)."""

import os

from hypothesis import settings

# machines are shared and busy: no test rests on how long anything takes
settings.register_profile("quick", max_examples=20, deadline=None)
settings.register_profile("whole", deadline=None)
settings.load_profile("quick" if os.environ.get("RAFT_QUICK") else "whole")
