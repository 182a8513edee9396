"""What users have brought in: whose it is, and that nobody uses what is another's."""

from __future__ import annotations

import json
import re
from collections.abc import Iterable
from typing import Any

from django.contrib.auth.models import User
from django.utils import timezone

from api.errors import Problem
from cenote.site.document import SiteDocument
from cenote.site.references import Reference, brought

from .models import Brought

_A_HASH = re.compile("[0-9a-f]{64}")


def record(owner: User, family: str, digest: str, size: int) -> None:
    """Say that a user has brought something in.

    :param family: a key of :data:`cenote.site.references.BROUGHT`. :param digest: the hash of its content.
    :param size: bytes.
    """
    defaults = {"size": size, "used": timezone.now()}
    Brought.objects.update_or_create(owner=owner, family=family, digest=digest, defaults=defaults)


def may_name(operations: Iterable[dict[str, Any]]) -> bool:
    """Whether operations may bring a hash into a document: most do not, and cost nothing more."""
    return any("value" in one and _A_HASH.search(json.dumps(one["value"])) for one in operations)


def refuse_foreign(after: SiteDocument, before: SiteDocument, owner: User) -> None:
    """Refuse what a document names newly and its owner has not brought in: another's, or what never was.

    :raises Problem: 422, by field.
    """
    had = {(one.family, one.id) for one in brought(before)}
    new = [one for one in brought(after) if (one.family, one.id) not in had]
    foreign = [one for one in new if not _put_to_use(owner, one)]
    if foreign:
        fields = [{"field": one.field, "message": one.in_words()[0].upper() + one.in_words()[1:]} for one in foreign]
        raise Problem("Some files are not among yours. Nothing was changed.", status=422, fields=fields)


def _put_to_use(owner: User, one: Reference) -> bool:
    """Say that something is used, so that it is not cleared away in this moment. :returns: whether its owner has it."""
    return bool(Brought.objects.filter(owner=owner, family=one.family, digest=one.id).update(used=timezone.now()))
