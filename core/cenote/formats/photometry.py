"""Photometric files of lamps, in: IES LM-63 of 1986 to 2019, with the angles of type C."""

from __future__ import annotations

import re

import numpy as np

from ..refused import ImportRefused

MOST_BYTES, _MOST_VALUES = 4_000_000, 400_000
_TYPES = {1: "C", 2: "B", 3: "A"}


def read_photometry(name: str, content: bytes) -> tuple[np.ndarray, float, list[str]]:
    """Read a photometric file.

    :returns: float32 (181, 360), candela for each lm, by degrees from straight down and by degrees around; the lumens of the lamp itself;
        and remarks for its owner.
    :raises cenote.formats.meshes_in.ImportRefused: with words for its owner.
    """
    if len(content) > MOST_BYTES:
        raise ImportRefused(f"{name}: it is larger than {MOST_BYTES / 1e6:g} MB, which no photometric file is.")
    text = content.decode("latin-1").replace("\r", "\n")
    head, found, rest = text.partition("TILT=")
    if not found or not (head.lstrip().startswith("IESNA") or "[" in head or head.strip() == "" or len(head) < 2000):
        raise ImportRefused(
            f"{name}: it is not a photometric file (IES LM-63): a line that begins with TILT= is missing."
        )
    tilt, _, body = rest.partition("\n")
    if not re.fullmatch(r"[\s0-9eE+\-.,]*", body):
        wrong = re.search(r"[^\s0-9eE+\-.,]\S*", body)
        raise ImportRefused(
            f"{name}: numbers are expected after TILT=, and {wrong[0][:30] if wrong else ''!r} is none."
        )
    try:
        numbers = np.array(body.replace(",", " ").split(), np.float64)
    except ValueError:
        raise ImportRefused(f"{name}: some of its numbers cannot be read.") from None
    if not np.isfinite(numbers).all():
        raise ImportRefused(f"{name}: some of its values are not finite numbers.")
    remarks = []
    if tilt.strip().upper() == "INCLUDE":
        # How much dimmer it is when tilted: a lamp's number, how many angles, these, and as many factors.
        many = int(numbers[1]) if len(numbers) > 1 and 0 <= numbers[1] < _MOST_VALUES else -1
        if many < 0 or len(numbers) < 2 + 2 * many:
            raise _early(name)
        numbers = numbers[2 + 2 * many :]
        remarks.append("How it dims when it is tilted is left out.")
    if len(numbers) < 13:
        raise _early(name)
    lamps, lumens, factor, downs, rounds, kind = numbers[:6]
    ballast = numbers[10]
    if kind not in _TYPES or _TYPES[int(kind)] != "C":
        raise ImportRefused(
            f"{name}: its angles are of type {_TYPES.get(int(kind), '?')}; type C is read, which nearly all lamps have."
        )
    if downs < 2 or rounds < 1 or downs != int(downs) or rounds != int(rounds) or downs * rounds > _MOST_VALUES:
        raise ImportRefused(f"{name}: it claims {downs:g} × {rounds:g} angles, which cannot be.")
    downs, rounds = int(downs), int(rounds)
    if len(numbers) < 13 + downs + rounds + downs * rounds:
        raise _early(name)
    down, around = numbers[13 : 13 + downs], numbers[13 + downs : 13 + downs + rounds]
    table = numbers[13 + downs + rounds :][: downs * rounds].reshape(rounds, downs)
    if (np.diff(down) <= 0).any() or (np.diff(around) <= 0).any() or down[0] < 0 or down[-1] > 180 or around[0] != 0:
        raise ImportRefused(f"{name}: its angles do not rise from 0°; export it again.")
    if (table < 0).any():
        remarks.append("Some of its values are below 0; they are taken as 0.")
    candela = _whole(np.maximum(table, 0) * factor * ballast, down, around)
    each = np.sin(np.radians(np.arange(181)))[:, None] * np.radians(1) ** 2
    sent = float((candela * each).sum())
    if sent <= 0:
        raise ImportRefused(f"{name}: it sends no light at all.")
    own = lumens * lamps if lumens > 0 else sent
    if lumens > 0 and not 0.2 < sent / own < 1.05:
        remarks.append(f"It tells {own:.0f} lm, and what it shines comes to {sent:.0f}; that is taken.")
    return (candela / sent).astype(np.float32), sent, remarks


def _early(name: str) -> ImportRefused:
    return ImportRefused(f"{name}: it ends early; export it again.")


def _whole(table: np.ndarray, down: np.ndarray, around: np.ndarray) -> np.ndarray:
    """Candela for each degree, of a table (rounds, downs) that may tell a half or a quarter of them: float64 (181, 360)."""
    each = np.arange(181.0)
    by_round = np.stack([np.interp(each, down, row, left=0, right=0) for row in table])
    turn, last = np.arange(360.0), float(around[-1])
    if len(around) == 1:
        return np.repeat(by_round[0][:, None], 360, axis=1)
    # What is told up to 90° or 180° is mirrored; up to 360° it is whole.
    if last <= 90:
        turn = np.minimum(turn % 180, 180 - turn % 180)
    elif last <= 180:
        turn = np.minimum(turn, 360 - turn)
    return np.stack(
        [np.interp(turn, around, by_round[:, row], period=360 if last > 180 else None) for row in range(181)]
    )
