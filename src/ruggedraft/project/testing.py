"""The test runner: Django's, closing with one plain line that any log reader understands."""

import unittest

from django.test.runner import DiscoverRunner


class CountingRunner(DiscoverRunner):
    def suite_result(self, suite: unittest.TestSuite, result: unittest.TestResult, **kwargs: object) -> int:
        failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        skipped = len(result.skipped)
        print(f"{result.testsRun - failed - skipped} passed, {failed} failed, {skipped} skipped")
        if result.testsRun == 0:
            print("No test was run, which is not a pass.")
            return 1
        return int(super().suite_result(suite, result, **kwargs))
