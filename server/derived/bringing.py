"""Files that users bring in: kept under the hash of what was read of them, and counted as theirs."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping

import numpy as np
from django.conf import settings
from django.contrib.auth.models import User
from ninja.files import UploadedFile

from api.errors import Problem
from cenote.derive.sources import source_name
from cenote.derive.store import pack_arrays
from jobs.holdings import refuse_over
from sites.brought import record
from store.blobs import shared_cache


def contents(files: list[UploadedFile], field: str) -> dict[str, bytes]:
    """What was uploaded, by name.

    :raises Problem: 422, by field, where it is more than is taken.
    """
    total, most = sum(file.size or 0 for file in files), settings.MOST_UPLOAD_BYTES // 1024**2
    if total > settings.MOST_UPLOAD_BYTES:
        raise Problem.of_field(
            field,
            f"{'Together they are' if len(files) > 1 else 'It is'} {total / 1e6:.0f} MB; at most {most} MB are taken.",
        )
    return {(file.name or "file")[-200:]: file.read() for file in files}


def keep(owner: User, family: str, arrays: Mapping[str, np.ndarray], field: str) -> str:
    """Keep what was read of a file.

    :param family: a key of :data:`cenote.site.references.BROUGHT`.
    :returns: the hash that a document names it by.
    :raises Problem: 422, by field, where its owner holds too much already.
    """
    content = pack_arrays(dict(arrays))
    digest = hashlib.sha256(content).hexdigest()
    refuse_over(owner, len(content), field)
    shared_cache().sources.write(source_name(family, digest), content)
    record(owner, family, digest, len(content))
    return digest
