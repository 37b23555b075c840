"""Recordings as ffmpeg makes them, for whatever is tested with real ones."""

import subprocess
import tempfile
from pathlib import Path


def recorded(name: str, *words: str) -> bytes:
    """What ffmpeg makes of these words, in the form that the name's ending asks for."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / name
        subprocess.run(["ffmpeg", "-v", "error", *words, str(path)], check=True)
        return path.read_bytes()


class InFolder:
    """Mixed into a test case: recordings as files, in a folder of each test's own."""

    def setUp(self):
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def recorded(self, name: str, *words: str) -> Path:
        path = self.folder / name
        path.write_bytes(recorded(name, *words))
        return path
