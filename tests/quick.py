"""Runs the core's tests in their quick form: no database, no browser, every processor. `./raft test core`"""

import io
import multiprocessing
import os
import sys
import unittest
from pathlib import Path
from time import perf_counter

LONGEST_FIRST = ("test_commands", "test_layouts", "test_slow_stores", "test_faults", "test_beside_copies", "test_media")
"""Begun first, so that no processor is left with a long one at the end."""


def run(module: str) -> tuple[str, bool, str, int]:
    """Name, whether all went well, what was said, and how many tests there were."""
    said = io.StringIO()
    suite = unittest.defaultTestLoader.loadTestsFromName(module)
    result = unittest.TextTestRunner(said, verbosity=0, warnings="error").run(suite)
    return module, result.wasSuccessful(), said.getvalue(), result.testsRun


def main() -> int:
    begun = perf_counter()
    names = [path.stem for path in (Path(__file__).parent / "core").glob("test_*.py")]
    order = {name: n for n, name in enumerate(LONGEST_FIRST)}
    modules = [f"tests.core.{name}" for name in sorted(names, key=lambda name: (order.get(name, 99), name))]
    for module in modules:  # once for all the processes that are forked from this one
        __import__(module)
    ran, failed = 0, 0
    with multiprocessing.get_context("fork").Pool(os.cpu_count()) as pool:
        for module, well, said, count in pool.imap_unordered(run, modules):
            ran, failed = ran + count, failed + (not well)
            if not well:
                print(f"{module}\n{said}", file=sys.stderr)
        pool.close()
        pool.join()  # they end by themselves, and write down what they reached if that is measured
    print(f"{ran} of the core's tests in {perf_counter() - begun:.0f} s, {failed} modules with failures")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
