"""The server's ASGI application."""

import asyncio
import os
from collections.abc import Awaitable, Callable, Mapping
from typing import Any

from django.core.asgi import get_asgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
_answer = get_asgi_application()

from django.conf import settings  # noqa: E402 - Django must be set up first

from derived.warm import warm_in_background  # noqa: E402
from jobs.events import hub_here  # noqa: E402

Message = Mapping[str, Any]
_turns = asyncio.Semaphore(settings.REQUESTS_AT_ONCE)


async def application(
    scope: dict[str, Any], receive: Callable[[], Awaitable[Message]], send: Callable[[Message], Awaitable[None]]
) -> None:
    """Answer a request, so many at a time: each takes a thread, memory and a connection to the database, of which there are
    not endlessly many. Streams of events take none of these while they wait, and are not counted; nor is what still
    sends its body, however slowly."""
    if scope["type"] != "http" or scope["path"].endswith("/events"):
        await _answer(scope, receive, send)
        return
    hub_here().follow()
    taken = False

    async def received() -> Message:
        nonlocal taken
        message = await receive()
        if not taken and not message.get("more_body"):
            await _turns.acquire()
            taken = True
        return message

    try:
        await _answer(scope, received, send)
    finally:
        if taken:
            _turns.release()


warm_in_background()
