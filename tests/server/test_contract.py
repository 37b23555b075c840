"""No input gives a 500, and what the description of the API says of its answers is true.

schemathesis makes requests from the description alone, valid and invalid ones, and chains them where one answer feeds
the next. `./raft test --long` makes many, the short form a sample.
"""

import os
import sys
import traceback
from unittest import skipUnless
from unittest.mock import patch

import schemathesis
from django.core.handlers.wsgi import WSGIHandler
from django.core.signals import got_request_exception
from django.test import SimpleTestCase, TransactionTestCase
from hypothesis import HealthCheck, Phase, settings
from pydantic import BaseModel
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from .world import World

LONG = bool(os.environ.get("RAFT_LONG"))
EACH = 60 if LONG else 4
CHECKS = (not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance)
_HOW = {
    "max_examples": EACH, "deadline": None, "derandomize": True, "database": None,
    "suppress_health_check": list(HealthCheck), "phases": [Phase.explicit, Phase.generate],
}  # fmt: skip


class Shapes(SimpleTestCase):
    def test_no_two_shapes_share_a_name(self):
        """The description would silently hold one of them, and the web would be built against it."""
        named: dict[str, set[str]] = {}
        for module in list(sys.modules.values()):
            if module and module.__name__.startswith("ruggedraft.api"):
                for name, one in vars(module).items():
                    if isinstance(one, type) and issubclass(one, BaseModel) and one.__module__ == module.__name__:
                        named.setdefault(name, set()).add(one.__module__)
        self.assertEqual({name: sorted(of) for name, of in named.items() if len(of) > 1}, {})
        self.assertGreater(len(named), 100, "else nothing was compared")


class Contract(World, TransactionTestCase):
    def setUp(self):
        super().setUp()
        self.offload()
        self.session = self.client_for(self.sol).cookies["sessionid"].value
        self.schema = schemathesis.openapi.from_wsgi("/api/openapi.json", self.application)
        self.schema.config.generation.update(modes=list(schemathesis.GenerationMode))
        got_request_exception.connect(self.tell)
        self.addCleanup(got_request_exception.disconnect, self.tell)

    def tell(self, **words) -> None:
        """What broke inside, which the answer does not say."""
        traceback.print_exc(limit=-3)

    def application(self, environ, start_response):
        """The application, asked by a supervisor who is signed in and has the page's token."""
        token = "x" * 32
        environ |= {"HTTP_HOST": "localhost", "HTTP_COOKIE": f"sessionid={self.session}; csrftoken={token}"}
        return WSGIHandler()({**environ, "HTTP_X_CSRFTOKEN": token}, start_response)

    def test_every_operation_answers_as_it_says_whatever_it_is_given(self):
        failed = {}
        for found in self.schema.get_all_operations():
            operation = found.ok()
            if (operation.method.upper(), operation.path) == ("DELETE", "/api/session"):
                continue
            try:
                self._try(operation)
            except BaseException as error:  # schemathesis raises groups of its own; all operations are to be tried
                if isinstance(error, KeyboardInterrupt):
                    raise
                failed[operation.label] = str(error)[:1500]
        self.assertEqual(failed, {})

    def test_an_operation_that_breaks_is_noticed(self):
        operation = self.schema["/api/productions/{production}/log/seal"]["GET"]
        with (
            patch("ruggedraft.api.journal.routes.find_broken_seal", side_effect=ZeroDivisionError),
            self.assertRaises(BaseExceptionGroup),
        ):
            self._try(operation)
        with (
            patch("ruggedraft.api.journal.routes.find_broken_seal", return_value="nonsense"),
            self.assertRaises(BaseExceptionGroup),
        ):
            self._try(operation)

    def _try(self, operation) -> None:
        @settings(**_HOW)
        @self.given(operation)
        def tried(case) -> None:
            """In the production that there is, but for one in so many."""
            if "production" in case.path_parameters and len(case.path_parameters["production"]) % 7:
                case.path_parameters["production"] = "heron"
            case.call_and_validate(checks=CHECKS)

        tried()

    @staticmethod
    def given(operation):
        from hypothesis import given

        return lambda test: given(case=operation.as_strategy())(lambda case: test(case))

    @skipUnless(LONG, "in the long form")
    def test_chains_of_requests_too(self):
        class Chain(self.schema.as_state_machine()):
            def validate_response(self, response, case, **words) -> None:
                case.validate_response(response, checks=CHECKS)

        Chain.run(settings=settings(**{**_HOW, "max_examples": 60, "stateful_step_count": 12}))
