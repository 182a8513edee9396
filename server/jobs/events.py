"""Events of a site, from any process to any open page: PostgreSQL's NOTIFY in, server-sent events out."""

from __future__ import annotations

import asyncio
import json
from collections.abc import AsyncIterator
from typing import Any
from uuid import UUID

import psycopg
from asgiref.sync import sync_to_async
from django.db import connection
from django.http import HttpRequest, HttpResponse, HttpResponseBase, StreamingHttpResponse

from sites.announce import CHANNEL
from sites.models import Site

_BREATH = 15.0


class _Hub:
    """One listening connection an event loop, shared by all its open streams."""

    def __init__(self) -> None:
        self.queues: dict[str, set[asyncio.Queue[str | None]]] = {}
        self.listener: asyncio.Task[None] | None = None
        self.ready = asyncio.Event()

    async def listen(self) -> None:
        parameters = await sync_to_async(_parameters)()
        try:
            async with await psycopg.AsyncConnection.connect(**parameters, autocommit=True) as listening:
                await listening.execute(f"LISTEN {CHANNEL}")
                self.ready.set()
                async for notice in listening.notifies():
                    site = json.loads(notice.payload)["site"]
                    for queue in self.queues.get(site, ()):
                        queue.put_nowait(notice.payload)
        finally:
            # The pages reconnect by themselves, and read the newest state when they do.
            self.ready.clear()
            for queues in self.queues.values():
                for queue in queues:
                    queue.put_nowait(None)

    async def stream(self, site: str) -> AsyncIterator[str]:
        if self.listener is None or self.listener.done():
            self.listener = asyncio.create_task(self.listen())
        queue: asyncio.Queue[str | None] = asyncio.Queue()
        self.queues.setdefault(site, set()).add(queue)
        try:
            await asyncio.wait_for(self.ready.wait(), 10)
            yield 'data: {"type": "connected"}\n\n'
            while True:
                try:
                    payload = await asyncio.wait_for(queue.get(), _BREATH)
                except TimeoutError:
                    yield ": still here\n\n"
                    continue
                if payload is None:
                    return
                yield f"data: {payload}\n\n"
        finally:
            self.queues[site].discard(queue)


_hubs: dict[asyncio.AbstractEventLoop, _Hub] = {}


def _parameters() -> dict[str, Any]:
    wanted = connection.get_connection_params()
    return {name: wanted[name] for name in ("dbname", "user", "password", "host", "port") if wanted.get(name)}


def _may_see(request: HttpRequest, site_id: UUID) -> bool:
    return request.user.is_authenticated and Site.objects.filter(pk=site_id, owner=request.user, deleted=None).exists()


async def site_events(request: HttpRequest, site_id: UUID) -> HttpResponseBase:
    """A stream of what happens to a site: changes, and the progress of jobs."""
    if not await sync_to_async(_may_see)(request, site_id):
        return HttpResponse(status=404)
    hub = _hubs.setdefault(asyncio.get_running_loop(), _Hub())
    response = StreamingHttpResponse(hub.stream(str(site_id)), content_type="text/event-stream")
    response["Cache-Control"] = "no-cache"
    return response
