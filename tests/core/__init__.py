"""Tests of the core alone: no database, no web server. RAFT_QUICK asks for the quick form (`./raft test core`)."""

import os

from hypothesis import settings

settings.register_profile("quick", max_examples=20, deadline=None)
if os.environ.get("RAFT_QUICK"):
    settings.load_profile("quick")
