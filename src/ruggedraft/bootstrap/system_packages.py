"""Debian's packages: which programs a command needs, and installing those that are missing."""

import ctypes.util
import importlib.util
import os
import shutil
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

from .problems import CannotGoOn
from .steps import say


def _program(name: str) -> Callable[[], bool]:
    return lambda: shutil.which(name) is not None


def _postgresql() -> bool:
    return bool(list(Path("/usr/lib/postgresql").glob("*/bin/initdb")))


def _library(name: str) -> Callable[[], bool]:
    return lambda: ctypes.util.find_library(name) is not None


def _venv() -> bool:
    return importlib.util.find_spec("ensurepip") is not None


PYTHON = {"python3-venv": _venv}
SERVE = {
    "postgresql": _postgresql, "ffmpeg": _program("ffmpeg"), "openssl": _program("openssl"),
    "libpango-1.0-0": _library("pango-1.0"), "libpangoft2-1.0-0": _library("pangoft2-1.0"),
    "libharfbuzz-subset0": _library("harfbuzz-subset"),
}  # fmt: skip
"""The libraries lay out what is printed."""
STATION = {"ffmpeg": _program("ffmpeg")}
DEMO = {"openssh-server": _program("/usr/sbin/sshd"), "openssh-client": _program("ssh-keygen")}
TEST = {
    "iproute2": _program("ip"),
    "chromium": _program("chromium"),
    "chromium-driver": _program("chromedriver"),
    "xxhash": _program("xxhsum"),
    "b3sum": _program("b3sum"),
    "libimage-exiftool-perl": _program("exiftool"),
    "e2fsprogs": _program("mkfs.ext4"),
    "xfsprogs": _program("mkfs.xfs"),
    "btrfs-progs": _program("mkfs.btrfs"),
    "exfatprogs": _program("mkfs.exfat"),
    "exfat-fuse": _program("mount.exfat-fuse"),
    "rsync": _program("rsync"),
    "diffutils": _program("diff"),
    "curl": _program("curl"),
    "libarchive-tools": _program("bsdtar"),
}


def install_missing(*groups: dict[str, Callable[[], bool]]) -> None:
    missing = sorted({name for group in groups for name, present in group.items() if not present()})
    if not missing:
        return
    names = " ".join(missing)
    if shutil.which("apt-get") is None:
        raise CannotGoOn(f"This machine lacks {names} and has no apt-get to install them with.")
    say(f"installing Debian packages: {names}")
    _apt("update")
    _apt("install", "--yes", "--no-install-recommends", *missing)
    if "openssh-server" in missing and shutil.which("systemctl"):  # wanted is the program: nobody asked for a service
        words = ("disable", "--now", "--quiet", "ssh.service", "ssh.socket")
        subprocess.run([*_as_administrator(words), "systemctl", *words], capture_output=True)


def _apt(*words: str) -> None:
    command = [*_as_administrator(words), "apt-get", "-q", "-o", "DPkg::Lock::Timeout=300", *words]
    environment = {**os.environ, "DEBIAN_FRONTEND": "noninteractive"}
    done = subprocess.run(command, env=environment, capture_output=True, text=True, errors="replace")
    if done.returncode:
        print((done.stdout + done.stderr)[-3000:], file=sys.stderr)
        raise CannotGoOn(f"apt-get {words[0]} failed; what it said stands above. Mend that and run this again.")


def _as_administrator(words: tuple[str, ...]) -> list[str]:
    if os.geteuid() == 0:
        return []
    wanted = f"an administrator can run: apt-get {' '.join(words)}"
    if shutil.which("sudo") is None:
        raise CannotGoOn(f"Debian packages are missing, you are not root and there is no sudo: {wanted}")
    quiet = [] if sys.stdin.isatty() else ["--non-interactive"]
    if subprocess.run(["sudo", *quiet, "true"], capture_output=not sys.stdin.isatty()).returncode:
        raise CannotGoOn(f"Debian packages are missing and sudo did not let you in: {wanted}")
    return ["sudo", *quiet]
