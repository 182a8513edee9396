"""Which answers are made smaller, and that they say the same."""

from __future__ import annotations

import asyncio
import gzip
import os
from collections.abc import Callable
from typing import Any

import zstandard
from django.http import FileResponse, HttpRequest, HttpResponse
from django.test import SimpleTestCase

from api.compression import WORTH, compress

LONG = b"0123456789" * (WORTH // 5)


def asked(response: Any, accepts: str) -> Any:
    """A response as a client gets it that accepts some encodings."""
    request = HttpRequest()
    request.META["HTTP_ACCEPT_ENCODING"] = accepts
    return compress(lambda _: response)(request)


class CompressionTests(SimpleTestCase):
    def test_long_packs_and_json_are_made_smaller_by_what_is_accepted(self) -> None:
        readers: dict[str, Callable[[bytes], bytes]] = {"gzip": gzip.decompress, "zstd": zstandard.decompress}
        for kind in ("application/x-cenote-pack", "application/json; charset=utf-8"):
            for accepts, encoding in (("gzip, deflate", "gzip"), ("gzip, br, zstd;q=0.9", "zstd")):
                answer = asked(HttpResponse(LONG, content_type=kind), accepts)
                self.assertEqual((answer["Content-Encoding"], answer["Vary"]), (encoding, "Accept-Encoding"))
                self.assertEqual(int(answer["Content-Length"]), len(answer.content))
                self.assertLess(len(answer.content), len(LONG) / 20)
                self.assertEqual(readers[encoding](answer.content), LONG)

    def test_what_would_not_gain_is_left_as_it_is(self) -> None:
        encoded = HttpResponse(LONG, content_type="application/json", headers={"Content-Encoding": "br"})
        for answer, accepts in (
            (HttpResponse(LONG[: WORTH - 1], content_type="application/json"), "gzip"),
            (HttpResponse(LONG, content_type="image/png"), "gzip"),
            (HttpResponse(LONG, content_type="application/json"), "identity"),
            (encoded, "gzip"),
        ):
            before = answer.get("Content-Encoding")
            self.assertEqual(asked(answer, accepts).get("Content-Encoding"), before)

    def test_files_are_streamed_as_before(self) -> None:
        with open(os.devnull, "rb") as file:
            self.assertTrue(asked(FileResponse(file, content_type="application/json"), "gzip").streaming)

    def test_it_serves_the_asynchronous_server_as_well(self) -> None:
        async def answer(_: HttpRequest) -> HttpResponse:
            return HttpResponse(LONG, content_type="application/json")

        request = HttpRequest()
        request.META["HTTP_ACCEPT_ENCODING"] = "gzip"
        self.assertEqual(gzip.decompress(asyncio.run(compress(answer)(request)).content), LONG)
