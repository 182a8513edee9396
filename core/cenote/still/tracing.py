"""Tracing in a process of its own: what it is asked, and what it gives.

    with Tracer(scene, Picture(1280, 800)) as tracer:
        film = tracer.look()

The engine is known to its own process alone (``engine.py``), so that whatever it does, to crash or to take all memory, its asker has words for it.
"""

from __future__ import annotations

import os
import pickle
import subprocess
import sys
from collections.abc import Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass
from types import TracebackType
from typing import IO, Any

import numpy as np
import pyoidn

from ..finish.masks import Masks
from ..geometry.camera import Camera
from .scene import LIGHT_GROUPS, LensBlur, Thing, TracedScene

# Pixels that a picture may have: what comes of each takes some 300 bytes while it is traced.
MOST_PIXELS = 40_000_000
# Light by how it came: straight from a lamp, the sun or the sky to what is seen, and from what shines itself. All the rest came by way of something.
PASSES = ("direct", "emission")
# What begins the name of a channel that tells where a cover is.
COVER = "cover."


class TracingFailed(Exception):
    """The engine ended, or refused; the message says it to people."""


@dataclass(frozen=True)
class Picture:
    """A picture that is wanted.

    :ivar region: left, top, right, bottom of the part that is traced, in shares of its sides; None for all of it.
    :ivar seed: another one gives other noise.
    """

    width: int
    height: int
    region: tuple[float, float, float, float] | None = None
    seed: int = 1

    @property
    def window(self) -> tuple[int, int, int, int]:
        """What is traced: its first and last column, its first and last row, from the top; all within it."""
        left, top, right, bottom = self.region or (0.0, 0.0, 1.0, 1.0)
        columns = int(left * self.width), max(int(np.ceil(right * self.width)) - 1, int(left * self.width))
        rows = int(top * self.height), max(int(np.ceil(bottom * self.height)) - 1, int(top * self.height))
        return (*columns, *rows)


@dataclass(frozen=True)
class Film:
    """What was traced so far, of the window of a picture: float32 (h, w, C) each, rows from the top.

    :ivar samples: paths for each pixel. :ivar channels: by name. For each of :data:`cenote.still.scene.LIGHT_GROUPS` the radiance that comes of it;
        of :data:`PASSES` the light that came that way; ``albedo``, ``normal``, ``alpha``; ``kinds``, the shares of a pixel that are planting and structures; ``thing``, the number of the thing
        that is nearest; and ``depth``, metres along the ray, infinite where there is nothing. Films that were kept have ``cover.`` and the id of each
        cover, the share of a pixel that it takes.
    :ivar things: what is seen, by its numbers; empty for films that were taken before there were any.
    """

    samples: float
    channels: Mapping[str, np.ndarray]
    things: Sequence[Thing] = ()

    def passes(self) -> dict[str, np.ndarray]:
        """Light by how it came, float32 (h, w, 3) each: together it is all of it. None for films that were taken before it was told."""
        if any(name not in self.channels for name in PASSES):
            return {}
        known = {name: self.channels[name] for name in PASSES}
        return known | {"indirect": np.asarray(self.radiance - sum(known.values()), np.float32)}

    @property
    def radiance(self) -> np.ndarray:
        """All light together, float32 (h, w, 3)."""
        return np.asarray(sum(self.channels[name] for name in LIGHT_GROUPS), np.float32)

    def cleaned(self, light: str | None = None) -> np.ndarray:
        """Light without its noise, by the package ``pyoidn`` (Intel Open Image Denoise), float32 (h, w, 3).

        :param light: one of :data:`cenote.still.scene.LIGHT_GROUPS`, or all together.
        """
        noisy = np.nan_to_num(self.radiance if light is None else self.channels[light])
        if not noisy.any():
            return noisy
        guides = {name: np.nan_to_num(self.channels[name]) for name in ("albedo", "normal")}
        return np.asarray(pyoidn.denoise(noisy, hdr=True, **guides))

    def masks(self) -> Masks:
        """Where in it what is."""
        cover, kinds = np.clip(self.channels["alpha"][..., 0], 0, 1), np.clip(self.channels["kinds"], 0, 1)
        things = [(thing.id, thing.kind) for thing in self.things]
        covers = {
            name.removeprefix(COVER): values[..., 0] for name, values in self.channels.items() if name.startswith(COVER)
        }
        return Masks(cover, kinds, self.channels["thing"][..., 0].astype(np.int32), things, covers)

    def added(self, other: Film) -> Film:
        """Both together: the more paths a film has, the more it counts."""
        share = self.samples / max(self.samples + other.samples, 1e-9)
        mixed = {name: (values * share + other.channels[name] * (1 - share)).astype(np.float32)
                 for name, values in self.channels.items() if name in other.channels and name not in ("depth", "thing")}  # fmt: skip
        # Where a pixel lies at an edge, one of its paths tells how far away it is.
        nearer = self.channels["depth"] <= other.channels["depth"]
        for name in ("depth", "thing"):
            mixed[name] = np.where(nearer, self.channels[name], other.channels[name])
        return Film(self.samples + other.samples, mixed, self.things or other.things)


class Tracer:
    """A picture that is being traced. It goes on by itself until it is closed."""

    def __init__(self, scene: TracedScene, picture: Picture) -> None:
        """Start. :raises TracingFailed: where the engine refuses."""
        # What the engine prints is no answer: those come through a pipe of their own.
        answers, theirs = os.pipe()
        self._process = subprocess.Popen(
            [sys.executable, "-m", "cenote.still.engine", str(theirs)], stdin=subprocess.PIPE, stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL, pass_fds=[theirs],
        )  # fmt: skip
        os.close(theirs)
        self._answers = os.fdopen(answers, "rb")
        self._things = scene.things
        self._ask("begin", scene, picture)

    def look(self) -> Film:
        """What was traced so far."""
        samples, channels = self._ask("look")
        return Film(samples, channels, self._things)

    def samples(self) -> float:
        """Paths for each pixel so far."""
        return float(self._ask("samples"))

    def turn(self, camera: Camera, blur: LensBlur) -> None:
        """Look from elsewhere from now on: the film begins anew."""
        self._ask("turn", camera, blur)

    def close(self) -> None:
        """End it."""
        self._process.kill()
        self._process.wait()
        self._answers.close()
        with suppress(BrokenPipeError):
            if self._process.stdin:
                self._process.stdin.close()

    def __enter__(self) -> Tracer:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.close()

    def _ask(self, what: str, *arguments: Any) -> Any:
        assert self._process.stdin
        try:
            send(self._process.stdin, (what, *arguments))
            told, value = receive(self._answers)
        except (BrokenPipeError, EOFError):
            self.close()
            raise TracingFailed(
                "The engine that traces ended by itself, most likely for want of memory. Try a smaller picture."
            ) from None
        if told == "refused":
            self.close()
            raise TracingFailed(value)
        return value


def send(stream: IO[bytes], message: Any) -> None:
    """Write a message to a pipe between two processes of ours."""
    pickle.dump(message, stream, protocol=5)
    stream.flush()


def receive(stream: IO[bytes]) -> Any:
    """The next message of a pipe. :raises EOFError: where the other end is gone."""
    return pickle.load(stream)
