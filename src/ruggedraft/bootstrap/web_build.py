"""Building the web application, once per state of its sources."""

import os

from . import node as node_program
from .places import WEB
from .steps import fingerprint, once, run, say


def environment() -> tuple[node_program.Node, dict[str, str]]:
    found = node_program.ensure()
    path = f"{found.node.parent}{os.pathsep}{os.environ.get('PATH', '')}"
    return found, {**os.environ, "PATH": path}


def ensure() -> None:
    install()
    sources = [WEB / "src", WEB / "index.html", WEB / "vite.config.ts", WEB / "package-lock.json"]
    once("web-build", fingerprint(sources), WEB / "dist" / "index.html", build)


def install() -> None:
    lock = WEB / "package-lock.json"

    def clean_install() -> None:
        say("installing web packages")
        found, env = environment()
        run([*found.npm, "ci", "--no-progress", "--ignore-scripts"], cwd=WEB, env=env)

    once("web-packages", fingerprint([lock]), WEB / "node_modules", clean_install)


def build() -> None:
    say("building the web application")
    script("build")


def script(name: str) -> None:
    found, env = environment()
    run([*found.npm, "run", "--silent", name], cwd=WEB, env=env)
