"""Long work, as the page sees it. The queue itself is procrastinate's, in the same PostgreSQL."""

from __future__ import annotations

import uuid

from django.db import models

from sites.models import Site


class Job(models.Model):
    """A piece of long work for a site."""

    class Kind(models.TextChoices):
        """What there is to do."""

        MEASURE = "measure"
        INSPECT = "inspect"
        EXPORT = "export"
        TEXTURES = "textures"
        DROP = "drop"

    class State(models.TextChoices):
        """How far it has come."""

        WAITING = "waiting"
        RUNNING = "running"
        DONE = "done"
        FAILED = "failed"
        CANCELLED = "cancelled"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="jobs")
    kind = models.CharField(max_length=12, choices=Kind.choices)
    state = models.CharField(max_length=12, choices=State.choices, default=State.WAITING)
    arguments = models.JSONField(default=dict)
    # What the work is for, so that the same work is not started twice.
    target = models.CharField(max_length=80, blank=True)
    done = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(default=0)
    doing = models.CharField(max_length=200, blank=True)
    result = models.JSONField(default=dict)
    # What it looks like at the moment, as a pack; only while it runs.
    frame = models.BinaryField(null=True)
    message = models.TextField(blank=True)
    cancel_asked = models.BooleanField(default=False)
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["created"]
        indexes = [models.Index(fields=["site", "state"])]

    def __str__(self) -> str:
        return f"{self.kind} ({self.state})"

    @property
    def ended(self) -> bool:
        """Whether nothing more will happen."""
        return self.state in (Job.State.DONE, Job.State.FAILED, Job.State.CANCELLED)
