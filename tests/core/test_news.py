"""What is told, to whom and when; and what other programs check it by."""

from datetime import UTC, datetime, timedelta
from unittest import TestCase

from standardwebhooks.webhooks import Webhook, WebhookVerificationError

from ruggedraft.core.news import (
    DEFAULT_CHOICES,
    Happening,
    NewsKind,
    Quiet,
    Way,
    fresh_and_over,
    new_secret,
    next_try,
    signed_headers,
    ways_of,
)


class Telling(TestCase):
    def test_one_message_for_one_event(self):
        one = Happening(NewsKind.FULL, "store 1", "one", "nearly full")
        self.assertEqual(fresh_and_over([one, one], []), ([one], set()))
        self.assertEqual(fresh_and_over([one], [(NewsKind.FULL, "store 1")]), ([], set()))
        self.assertEqual(fresh_and_over([], [(NewsKind.FULL, "store 1")]), ([], {(NewsKind.FULL, "store 1")}))

    def test_what_nobody_chose_is_as_everybody_has_it(self):
        self.assertEqual(ways_of({}, NewsKind.TROUBLE), DEFAULT_CHOICES[NewsKind.TROUBLE])
        self.assertEqual(ways_of({NewsKind.TROUBLE: []}, NewsKind.TROUBLE), [])
        self.assertNotIn(Way.MAIL, {way for ways in DEFAULT_CHOICES.values() for way in ways})

    def test_quiet_hours_over_midnight_within_a_day_and_none(self):
        day = datetime(2026, 5, 14, tzinfo=UTC)
        for quiet, hour, ends in (
            (Quiet(22, 6), 23, day + timedelta(days=1, hours=6)), (Quiet(22, 6), 5, day + timedelta(hours=6)),
            (Quiet(22, 6), 6, None), (Quiet(22, 6), 21, None), (Quiet(1, 5), 2, day + timedelta(hours=5)),
            (Quiet(1, 5), 5, None), (Quiet(0, 0), 0, None), (Quiet(7, 7), 7, None),
        ):  # fmt: skip
            self.assertEqual(quiet.until(day + timedelta(hours=hour)), ends, (quiet, hour))

    def test_it_is_tried_again_ever_later_and_given_up_within_a_day(self):
        waits = [next_try(n) for n in range(1, 9)]
        self.assertIsNone(waits[-1])
        self.assertEqual(waits[:-1], sorted(waits[:-1]))
        self.assertLess(sum(waits[:-1], timedelta()), timedelta(days=1))


class Signing(TestCase):
    """Against the specification's own reference library for Python (standardwebhooks)."""

    def test_a_reference_library_takes_it_and_nothing_that_was_changed(self):
        secret, at, body = new_secret(), int(datetime.now(UTC).timestamp()), b'{"type": "roll_verified"}'
        headers = signed_headers(secret, "msg_1", at, body)
        self.assertEqual(Webhook(secret).verify(body, headers), {"type": "roll_verified"})
        self.assertEqual(
            headers["webhook-signature"], Webhook(secret).sign("msg_1", datetime.fromtimestamp(at, UTC), body.decode())
        )
        for changed, said in (
            (body + b" ", headers), (body, {**headers, "webhook-id": "msg_2"}),
            (body, {**headers, "webhook-timestamp": str(at + 1)}),
            (body, signed_headers(new_secret(), "msg_1", at, body)),
        ):  # fmt: skip
            with self.assertRaises(WebhookVerificationError):
                Webhook(secret).verify(changed, said)
