"""Several things made at a time for one request."""

from __future__ import annotations

import threading

from django.contrib.auth.models import User
from django.db import connections, transaction
from django.test import TransactionTestCase

from derived.side_by_side import side_by_side


class SideBySideTests(TransactionTestCase):
    def test_all_is_made_in_its_order_on_other_threads(self) -> None:
        def make(one: int) -> tuple[int, bool]:
            return one * one, threading.current_thread() is threading.main_thread()

        self.assertEqual(side_by_side(make, range(20)), [(one * one, False) for one in range(20)])

    def test_what_goes_wrong_is_told(self) -> None:
        def make(one: int) -> float:
            return 1 / (one - 3)

        with self.assertRaises(ZeroDivisionError):
            side_by_side(make, range(6))

    def test_no_thread_keeps_its_connection(self) -> None:
        kept = []

        def make(name: str) -> None:
            User.objects.create(username=name)
            kept.append(connections["default"])

        side_by_side(make, ["one", "two", "three"])
        self.assertEqual(User.objects.count(), 3)
        self.assertTrue(all(one.connection is None for one in kept))

    def test_within_a_transaction_what_it_wrote_is_seen(self) -> None:
        with transaction.atomic():
            User.objects.create(username="somebody")
            self.assertEqual(side_by_side(lambda _: User.objects.count(), range(3)), [1, 1, 1])
