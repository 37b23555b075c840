"""How ffmpeg's programs are run on a file that anybody may have made."""

import os

_FORMATS = (
    "aac", "aiff", "asf", "avi", "caf", "dv", "flac", "gif", "h264", "hevc", "m4v", "matroska",
    "mov,mp4,m4a,3gp,3g2,mj2", "mp3", "mpeg", "mpegts", "mpegvideo", "mxf", "ogg", "rm", "w64", "wav", "webm",
)  # fmt: skip
"""Demuxers as ffmpeg names them. None of them opens another file; those of playlists and lists of files do."""

_TOLD = ("PATH", "LANG", "LC_ALL", "PYTHONPYCACHEPREFIX")


def only_itself(descriptor: int) -> list[str]:
    """The words by which an open file is read, and nothing that it names: no path and no playlist is followed."""
    return ["-format_whitelist", ",".join(_FORMATS), "-i", f"/dev/fd/{descriptor}"]


def bare() -> dict[str, str]:
    """All that such a program is told of where it runs: no key and no password of ours."""
    return {name: os.environ[name] for name in _TOLD if name in os.environ}
