"""Events of a site, from any process to any open page: PostgreSQL's NOTIFY in, server-sent events out."""

from __future__ import annotations

import asyncio
import json
import logging
from collections.abc import AsyncIterator, Awaitable, Callable
from typing import Any
from uuid import UUID

import psycopg
from asgiref.sync import sync_to_async
from django.contrib.auth import user_logged_out
from django.db import connection
from django.dispatch import receiver
from django.http import HttpRequest, HttpResponse, HttpResponseBase, StreamingHttpResponse

from sites.announce import CHANNEL, announce_end, session_name
from sites.models import Site

log = logging.getLogger("cenote.events")
# Seconds between two signs of life, and after how many of them it is looked whether the stream may go on.
_BREATH, _LOOKED_AT = 15.0, 4


async def _always() -> bool:
    return True


# Called in every process that listens with each notice; they return at once.
HEARD: list[Callable[[dict[str, Any]], None]] = []


class _Hub:
    """One listening connection an event loop, shared by all its open streams."""

    def __init__(self) -> None:
        # Of each site the open streams, and the session that each belongs to.
        self.queues: dict[str, dict[asyncio.Queue[str | None], str]] = {}
        self.listener: asyncio.Task[None] | None = None
        self.ready = asyncio.Event()

    def follow(self) -> None:
        """Listen, if that does not go on already."""
        if self.listener is None or self.listener.done():
            self.listener = asyncio.create_task(self.listen())

    async def listen(self) -> None:
        parameters = await sync_to_async(_parameters)()
        try:
            async with await psycopg.AsyncConnection.connect(**parameters, autocommit=True) as listening:
                await listening.execute(f"LISTEN {CHANNEL}")
                self.ready.set()
                async for notice in listening.notifies():
                    told = json.loads(notice.payload)
                    for heard in HEARD:
                        heard(told)
                    if ended := told.get("ended"):
                        self._end(lambda session: session == ended)
                    for queue in self.queues.get(told.get("site", ""), ()):
                        queue.put_nowait(notice.payload)
        except psycopg.OperationalError as error:
            log.warning("the line to the database was lost: %s", error)
        finally:
            # The pages reconnect by themselves, and read the newest state when they do.
            self.ready.clear()
            self._end(lambda session: True)

    def _end(self, meant: Callable[[str], bool]) -> None:
        for queues in self.queues.values():
            for queue, session in queues.items():
                if meant(session):
                    queue.put_nowait(None)

    async def stream(
        self, site: str, session: str = "", may: Callable[[], Awaitable[bool]] = _always
    ) -> AsyncIterator[str]:
        """What happens to a site, until its session ends or it ``may`` not be seen any more."""
        self.follow()
        queue: asyncio.Queue[str | None] = asyncio.Queue()
        self.queues.setdefault(site, {})[queue] = session
        breaths = 0
        try:
            await asyncio.wait_for(self.ready.wait(), 10)
            yield 'data: {"type": "connected"}\n\n'
            while True:
                try:
                    payload = await asyncio.wait_for(queue.get(), _BREATH)
                except TimeoutError:
                    breaths += 1
                    if breaths % _LOOKED_AT == 0 and not await may():
                        return
                    yield ": still here\n\n"
                    continue
                if payload is None:
                    return
                yield f"data: {payload}\n\n"
        finally:
            self.queues[site].pop(queue, None)
            if not self.queues[site]:
                del self.queues[site]


_hubs: dict[asyncio.AbstractEventLoop, _Hub] = {}


def hub_here() -> _Hub:
    """The hub of the running event loop."""
    return _hubs.setdefault(asyncio.get_running_loop(), _Hub())


def _parameters() -> dict[str, Any]:
    wanted = connection.get_connection_params()
    return {name: wanted[name] for name in ("dbname", "user", "password", "host", "port") if wanted.get(name)}


def _may_see(user: Any, session: Any, site_id: UUID) -> bool:
    """Whether a user may see a site, in a session that has not ended. The connection to the database that this opens is
    given back at once: a stream stays open for hours, and needs none."""
    try:
        there = user.is_authenticated and session.exists(session.session_key or "")
        return there and Site.objects.filter(pk=site_id, owner=user, deleted=None).exists()
    finally:
        if not connection.in_atomic_block:
            connection.close()


@receiver(user_logged_out)
def _session_ended(request: HttpRequest | None, **_: Any) -> None:
    """Lines of a session that was signed out are cut, in every process."""
    if request is not None and request.session.session_key:
        announce_end(session_name(request.session.session_key))


async def site_events(request: HttpRequest, site_id: UUID) -> HttpResponseBase:
    """A stream of what happens to a site: changes, and the progress of jobs."""

    async def may() -> bool:
        return await sync_to_async(_may_see)(request.user, request.session, site_id)

    if not await may():
        return HttpResponse(status=404)
    hub = hub_here()
    stream = hub.stream(str(site_id), session_name(request.session.session_key), may)
    response = StreamingHttpResponse(stream, content_type="text/event-stream")
    response["Cache-Control"] = "no-cache"
    return response
