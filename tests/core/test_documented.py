"""Every public name of the core says what it is: itself, or what it implements does."""

import importlib
import inspect
import pkgutil
from unittest import TestCase

import ruggedraft.core as core


def undocumented() -> list[str]:
    found = []
    for module in pkgutil.walk_packages(core.__path__, "ruggedraft.core."):
        loaded = importlib.import_module(module.name)
        for name, thing in vars(loaded).items():
            if name.startswith("_") or getattr(thing, "__module__", "") != module.name:
                continue
            if inspect.isfunction(thing) or inspect.isclass(thing):
                found += [f"{module.name}.{one}" for one in _silent(name, thing)]
    return found


def _silent(name: str, thing: object) -> list[str]:
    silent = [] if _says_something(thing) else [name]
    if inspect.isclass(thing):
        for inner, what in vars(thing).items():
            written = inspect.isfunction(what) and what.__name__ != "<lambda>"
            documented = written or isinstance(what, (property, classmethod, staticmethod))
            if documented and not inner.startswith("_") and not inspect.getdoc(getattr(thing, inner)):
                silent.append(f"{name}.{inner}")
    return silent


def _says_something(thing: object) -> bool:
    """A dataclass is given its signature for a docstring where it has none."""
    said = inspect.getdoc(thing) or ""
    return bool(said) and not said.startswith(f"{getattr(thing, '__name__', '')}(")


class Documented(TestCase):
    def test_every_public_name_says_what_it_is(self):
        self.assertEqual(undocumented(), [])
