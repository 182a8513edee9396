"""Telling pages, in any process, what happens to the site that they show."""

from __future__ import annotations

import hashlib
import json
from typing import Any
from uuid import UUID

from django.db import connection
from django.dispatch import Signal

CHANNEL = "cenote_events"
# Sent by requests that have changed a site's document, with ``site`` and whether it is ``fresh``.
site_changed = Signal()
# Sent with ``site`` where somebody asks for pictures of its shots that were never drawn.
pictures_wanted = Signal()


def announce(site_id: UUID, event: dict[str, Any]) -> None:
    """Tell every page that shows the site; inside a transaction, once it is committed.

    :param event: small, as JSON it must stay under 7 kB.
    """
    _notify({"site": str(site_id), **event})


def announce_end(session: str) -> None:
    """Tell every process that a session has ended, by the name of its lines (:func:`session_name`)."""
    _notify({"ended": session})


def announce_opened(site_id: UUID) -> None:
    """Tell every process that a page has opened a site."""
    _notify({"opened": str(site_id)})


def session_name(key: str | None) -> str:
    """What a session's lines are known by: a digest of its key, which is nobody else's business."""
    return hashlib.sha256((key or "").encode()).hexdigest()[:32]


def _notify(payload: dict[str, Any]) -> None:
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_notify(%s, %s)", [CHANNEL, json.dumps(payload)])
