"""The examples in docstrings say what is so."""

import doctest
import importlib
import pkgutil
from types import ModuleType
from unittest import TestCase

from ruggedraft import core


class Examples(TestCase):
    def test_each_is_as_it_says(self):
        tried = 0
        for module in _modules():
            with self.subTest(module.__name__):
                result = doctest.testmod(module)
                self.assertEqual(result.failed, 0)
                tried += result.attempted
        self.assertGreater(tried, 5)


def _modules() -> list[ModuleType]:
    found = pkgutil.walk_packages(core.__path__, f"{core.__name__}.")
    return [importlib.import_module(module.name) for module in found]
