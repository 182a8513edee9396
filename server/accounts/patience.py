"""Whoever signs in wrongly again and again has to wait, longer each time; what is refused that way costs no hashing."""

from __future__ import annotations

import hashlib
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta

from django.db import transaction
from django.db.models import F
from django.utils import timezone

from api.errors import Problem

from .models import WrongTries

# So many wrong tries are free; each further one doubles the wait, from a second up to a most.
FREE_OF_NAME, FREE_OF_ADDRESS = 5, 20
_MOST_OF_NAME, _MOST_OF_ADDRESS = timedelta(minutes=1), timedelta(minutes=5)
# Tries that are so old are forgotten.
_FORGOTTEN = timedelta(hours=1)
# Hashing a password keeps a processor busy for a good part of a second: one at a time in each process, and nobody waits
# longer than so many seconds for a turn.
_hashing = threading.BoundedSemaphore(1)
_TURN = 4.0


def of_name(name: str) -> str:
    """Under what tries of a name are counted; upper and lower case are one."""
    return _digest("name", name.strip().casefold())


def of_address(address: str) -> str:
    """Under what tries from an address are counted."""
    return _digest("address", address)


def _digest(what: str, text: str) -> str:
    return hashlib.sha256(f"{what} {text}".encode(errors="replace")).hexdigest()


def wait_for(name: str, address: str) -> float:
    """Seconds until the next try under a name from an address is looked at; 0 for at once."""
    limits = {
        of_name(name): (FREE_OF_NAME, _MOST_OF_NAME),
        of_address(address): (FREE_OF_ADDRESS, _MOST_OF_ADDRESS),
    }
    now, longest = timezone.now(), 0.0
    for entry in WrongTries.objects.filter(of__in=limits, latest__gte=now - _FORGOTTEN):
        free, most = limits[entry.of]
        if entry.number > free:
            waits = min(2.0 ** min(entry.number - free - 1, 20), most.total_seconds())
            longest = max(longest, waits - (now - entry.latest).total_seconds())
    return longest


def tried_wrongly(name: str, address: str) -> None:
    """Count a wrong try; what is old is forgotten on this occasion."""
    now = timezone.now()
    WrongTries.objects.filter(latest__lt=now - _FORGOTTEN).delete()
    for of in (of_name(name), of_address(address)):
        with transaction.atomic():
            WrongTries.objects.get_or_create(of=of, defaults={"latest": now})
            WrongTries.objects.filter(of=of).update(number=F("number") + 1, latest=now)


def signed_in(name: str) -> None:
    """Forget the wrong tries under a name: it was its owner who mistyped."""
    WrongTries.objects.filter(of=of_name(name)).delete()


@contextmanager
def turn() -> Iterator[None]:
    """Wait for a turn to hash.

    :raises Problem: 429 if that takes too long.
    """
    if not _hashing.acquire(timeout=_TURN):
        raise Problem(
            "Many are signing in at this moment. Wait a few seconds and try again.", status=429, retry_after=5
        )
    try:
        yield
    finally:
        _hashing.release()
