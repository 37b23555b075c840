#!/usr/bin/env python
"""Django's command line with the project's settings. Usually reached as `./raft manage`."""

import os
import sys
from pathlib import Path

if __name__ == "__main__":
    sys.path.insert(0, str(Path(__file__).parent / "src"))
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "ruggedraft.project.settings")
    from django.core.management import execute_from_command_line

    execute_from_command_line(sys.argv)
