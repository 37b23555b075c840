"""Django's test runner, which ends with one plain line that any log reader understands."""

import unittest
from types import TracebackType
from typing import Any
from unittest.case import _SubTest  # type: ignore[attr-defined]  # its own module makes it public to nobody

from django.test.runner import DiscoverRunner, ParallelTestSuite, RemoteTestResult, RemoteTestRunner

_Problem = tuple[type[BaseException], BaseException, TracebackType] | tuple[None, None, None]


class _Result(RemoteTestResult):
    """What a process sends back of its tests. Of a subtest its name: what the test holds open cannot be sent."""

    def addSubTest(self, test: unittest.TestCase, subtest: Any, err: _Problem | None) -> None:
        bare = _SubTest(type(test)(test._testMethodName), subtest._subDescription(), {})
        super().addSubTest(test, bare, err)


class _Runner(RemoteTestRunner):
    resultclass = _Result


class _Suite(ParallelTestSuite):
    runner_class = _Runner


class CountingRunner(DiscoverRunner):
    parallel_test_suite = _Suite

    def suite_result(self, suite: unittest.TestSuite, result: Any, **kwargs: object) -> int:
        failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        skipped = len(result.skipped)
        print(f"{result.testsRun - failed - skipped} passed, {failed} failed, {skipped} skipped")
        if result.testsRun == 0:
            print("No test was run, which is not a pass.")
            return 1
        return int(super().suite_result(suite, result, **kwargs))
