"""Changing a site: every change is an edit that can be undone, and none overwrites what its author has not seen."""

from __future__ import annotations

from copy import deepcopy
from datetime import timedelta
from typing import Any
from uuid import UUID

import jsonpatch
from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone
from pydantic import ValidationError

from api.errors import Problem
from cenote.site.document import SiteDocument, problem_in_words
from cenote.site.references import dangling, newly_dangling

from .announce import announce
from .brought import may_name, refuse_foreign
from .models import Answered, Edit, Site

# For so long it is known which changes were made.
_REMEMBERED = timedelta(days=30)


def owned_site(user: User, site_id: UUID, *, lock: bool = False) -> Site:
    """A site of this user.

    :raises Problem: 404 if it is not theirs, not there, or deleted; nobody learns which.
    """
    sites = Site.objects.select_for_update() if lock else Site.objects
    site = sites.filter(pk=site_id, owner=user, deleted=None).first()
    if site is None:
        raise Problem("There is no such site among yours.", status=404)
    return site


def parsed(document: Any) -> SiteDocument:
    """Check a document against the declarations.

    :raises Problem: 422, by field.
    """
    try:
        return SiteDocument.model_validate(document)
    except ValidationError as error:
        fields = problem_in_words(error.errors(include_url=False, include_context=False))
        raise Problem("Some values cannot be used. Nothing was changed.", status=422, fields=fields) from None


def patched(document: Any, operations: list[dict[str, Any]], owner: User) -> Any:
    """Apply a JSON Patch to a stored document and check the outcome. One of an older shape is brought to today's first.

    :raises Problem: 422 if the patch does not fit, or what comes out is not a document.
    """
    return changed(parsed(document).model_dump(mode="json"), operations, owner).model_dump(mode="json")


def changed(document: dict[str, Any], operations: list[dict[str, Any]], owner: User) -> SiteDocument:
    """Apply a JSON Patch to a document of today's shape, which is left as it is, and check the outcome.

    :param owner: whose files it may use.

    :raises Problem: 422 if the patch does not fit, or what comes out is not a document.
    """
    try:
        after = parsed(_applied(document, operations))
    except (jsonpatch.JsonPatchException, jsonpatch.JsonPointerException) as error:
        raise Problem(
            f"The change does not fit this site ({str(error)[:200]}). Nothing was changed.", status=422
        ) from None
    _refuse_lost(after, document)
    if may_name(operations):
        refuse_foreign(after, parsed(document), owner)
    return after


def _refuse_lost(after: SiteDocument, document: dict[str, Any]) -> None:
    """Refuse references to what never was on the site.

    :raises Problem: 422, by field.
    """
    if next(dangling(after), None) is None:
        return
    lost = newly_dangling(after, parsed(document))
    if lost:
        fields = [{"field": one.field, "message": one.in_words()[0].upper() + one.in_words()[1:]} for one in lost]
        raise Problem("Some values refer to what is not on this site. Nothing was changed.", status=422, fields=fields)


def _applied(document: dict[str, Any], operations: list[dict[str, Any]]) -> Any:
    """A document with a JSON Patch applied. Only what it touches is copied, as this is asked for at each step of a drag."""
    paths = [one[end] for one in operations for end in ("path", "from") if one.get(end)]
    touched = {path.split("/")[1] for path in paths}
    copy = {name: deepcopy(value) if name in touched else value for name, value in document.items()}
    return jsonpatch.apply_patch(copy, operations, in_place=True)


def _difference(before: dict[str, Any], after: dict[str, Any]) -> Any:
    """The JSON Patch from one document to another; what is the same is not searched for differences."""
    differ = {name for name in before.keys() | after.keys() if before.get(name) != after.get(name)}
    old, new = ({name: one[name] for name in one if name in differ} for one in (before, after))
    return jsonpatch.make_patch(old, new).patch


def _expect(site: Site, revision: int) -> None:
    if site.revision != revision:
        last = site.edits.filter(number=site.head).first()
        what = f"“{last.label}”" if last else "a change"
        raise Problem(
            f"This site was changed elsewhere meanwhile (last: {what}). Your change was not applied, so nothing of "
            "theirs is lost. Show the newest state, then make your change on top of it.",
            status=409,
            revision=site.revision,
        )


def _store(site: Site, document: Any, head: int, what: str) -> None:
    site.document, site.head, site.revision = document, head, site.revision + 1
    site.save()
    announce(site.pk, {"type": "changed", "revision": site.revision, "label": what})


def _answered(site: Site, request: UUID | None) -> bool:
    """Whether a change was made already: its answer was lost on the way, and it is asked for again."""
    return request is not None and site.answered.filter(request=request).exists()


def _remember(site: Site, request: UUID | None) -> None:
    if request is not None:
        site.answered.filter(created__lt=timezone.now() - _REMEMBERED).delete()
        Answered.objects.create(site=site, request=request)


@transaction.atomic
def edit(
    user: User,
    site_id: UUID,
    revision: int,
    label: str,
    gesture: str,
    operations: list[dict[str, Any]],
    request: UUID | None = None,
) -> Site:
    """Apply an edit to a site that is at ``revision``; one whose ``request`` was answered before is not applied again.

    :raises Problem: 404, 409 if it has moved on, 422 if the edit cannot be applied.
    """
    site = owned_site(user, site_id, lock=True)
    if _answered(site, request):
        return site
    _expect(site, revision)
    before = site.document
    after = patched(before, operations, site.owner)
    if after == before:
        return site
    site.edits.filter(number__gt=site.head).delete()
    last = site.edits.filter(number=site.head).first()
    if last is not None and gesture and last.gesture == gesture:
        start = _applied(before, last.backward)
        last.forward, last.backward = _difference(start, after), _difference(after, start)
        last.label = label
        last.save()
        head = last.number
    else:
        head = site.head + 1
        Edit.objects.create(
            site=site, number=head, label=label, gesture=gesture,
            forward=_difference(before, after), backward=_difference(after, before),
        )  # fmt: skip
    _store(site, after, head, label)
    _remember(site, request)
    return site


@transaction.atomic
def step(user: User, site_id: UUID, revision: int, *, back: bool, request: UUID | None = None) -> Site:
    """Undo the last applied edit, or redo the next one; not again for a ``request`` that was answered before.

    :raises Problem: 404, 409 if the site has moved on or there is nothing to undo or redo.
    """
    site = owned_site(user, site_id, lock=True)
    if _answered(site, request):
        return site
    _expect(site, revision)
    entry = site.edits.filter(number=site.head if back else site.head + 1).first()
    if entry is None:
        raise Problem(f"There is nothing to {'undo' if back else 'redo'}.", status=409, revision=site.revision)
    document = _applied(site.document, entry.backward if back else entry.forward)
    _store(site, document, site.head - 1 if back else site.head + 1, f"{'undo' if back else 'redo'} {entry.label}")
    _remember(site, request)
    return site
