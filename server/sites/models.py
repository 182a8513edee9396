"""Sites, the history of their edits, and meshes brought to them."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models


class Site(models.Model):
    """A site: its document, and where in the history of edits it stands."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="sites")
    name = models.CharField(max_length=120)
    document = models.JSONField()
    # Counts every change, so that nobody overwrites what they have not seen.
    revision = models.PositiveIntegerField(default=1)
    # Number of the last edit that is applied; edits after it have been undone.
    head = models.PositiveIntegerField(default=0)
    thumbnail = models.CharField(max_length=80, blank=True)
    # For each shot by its id the name of its picture in the store.
    shot_pictures = models.JSONField(default=dict)
    created = models.DateTimeField(auto_now_add=True)
    modified = models.DateTimeField(auto_now=True)
    deleted = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-modified"]

    def __str__(self) -> str:
        return self.name


class Edit(models.Model):
    """One step of a site's history, as JSON Patches (RFC 6902) forwards and backwards."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="edits")
    number = models.PositiveIntegerField()
    label = models.CharField(max_length=160)
    forward = models.JSONField()
    backward = models.JSONField()
    # Edits of one gesture, such as a drag, are one step.
    gesture = models.CharField(max_length=64, blank=True)
    created = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["site", "number"], name="one_edit_a_number")]

    def __str__(self) -> str:
        return f"{self.number}: {self.label}"


class Answered(models.Model):
    """A change that was made, by the id that its request had: a repeat of it is answered and not made again."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="answered")
    request = models.UUIDField()
    created = models.DateTimeField(auto_now_add=True, db_index=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["site", "request"], name="one_answer_a_request")]

    def __str__(self) -> str:
        return str(self.request)


class Brought(models.Model):
    """Something that a user brought in: theirs to use, and part of what they hold. Two users who bring in the same file
    share its bytes, not the right to it."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="brought")
    # One of the names of :data:`cenote.site.references.BROUGHT`, and the hash of the content.
    family = models.CharField(max_length=12)
    digest = models.CharField(max_length=64)
    size = models.PositiveBigIntegerField(default=0)
    # When it was last brought in, or put to a new use.
    used = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "family", "digest"], name="brought_once")]
        indexes = [models.Index(fields=["family", "digest"], name="brought_by_hash")]

    def __str__(self) -> str:
        return f"{self.family}-{self.digest[:8]}"


class MeshImport(models.Model):
    """A file that somebody brings in: uploaded, inspected, then placed or let go."""

    class State(models.TextChoices):
        """How far it has come."""

        INSPECTING = "inspecting"
        READY = "ready"
        REFUSED = "refused"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="imports")
    file_name = models.CharField(max_length=200)
    # Where the file lies until it is cleared away, and how large it is.
    upload = models.CharField(max_length=200, blank=True)
    bytes = models.PositiveBigIntegerField(default=0)
    unit = models.CharField(max_length=4, default="m")
    up = models.CharField(max_length=1, default="y")
    state = models.CharField(max_length=12, choices=State.choices, default=State.INSPECTING)
    message = models.TextField(blank=True)
    remarks = models.JSONField(default=list)
    mesh = models.CharField(max_length=64, blank=True)
    # What came with it: its pictures, and how many of its parts have any.
    textures = models.CharField(max_length=64, blank=True)
    wrapped = models.PositiveIntegerField(default=0)
    size = models.JSONField(default=list)
    triangles = models.PositiveIntegerField(default=0)
    created = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return self.file_name
