"""Long work, as the page sees it. The queue itself is procrastinate's, in the same PostgreSQL."""

from __future__ import annotations

import uuid
from typing import Any

from django.db import models
from django.utils import timezone

from sites.models import Site


class Job(models.Model):
    """A piece of long work for a site."""

    class State(models.TextChoices):
        """How far it has come."""

        WAITING = "waiting"
        RUNNING = "running"
        DONE = "done"
        FAILED = "failed"
        CANCELLED = "cancelled"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="jobs")
    kind = models.CharField(max_length=24)
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
    # How often it was begun: more than once where its worker was killed.
    tries = models.PositiveSmallIntegerField(default=0)
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["created"]
        indexes = [models.Index(fields=["site", "state"])]

    def __str__(self) -> str:
        return f"{self.kind} ({self.state})"

    # Changes of state are conditional, and each writes what it changes alone: a page may ask for an end at any moment.

    def _update(self, when: str, /, **values: Any) -> bool:
        """Change it if it is in a state. :returns: whether it was."""
        values["changed"] = timezone.now()
        done = Job.objects.filter(pk=self.pk, state=when).update(**values)
        if done:
            for name, value in values.items():
                setattr(self, name, value)
        return bool(done)

    def begin(self) -> bool:
        """Say that it runs, if it still waits."""
        return self._update(Job.State.WAITING, state=Job.State.RUNNING, tries=self.tries + 1)

    def wait_again(self) -> bool:
        """Say that it waits, if it runs: its worker is gone."""
        return self._update(Job.State.RUNNING, state=Job.State.WAITING, doing="", done=0, total=0, frame=None)

    def report(self, done: int, total: int, doing: str) -> bool:
        """Say how far it has come. :returns: false if it does not run any more, or is asked to end."""
        going = self._update(Job.State.RUNNING, done=done, total=total, doing=doing[:200])
        return going and not Job.objects.filter(pk=self.pk, cancel_asked=True).exists()

    def show(self, frame: bytes | None) -> None:
        """Say what it looks like at the moment, as a pack."""
        self._update(Job.State.RUNNING, frame=frame)

    def tell_result(self, result: dict[str, Any]) -> None:
        """Tell something of the outcome ahead of its end."""
        self._update(Job.State.RUNNING, result=result)

    def end(self, state: str, message: str = "", result: dict[str, Any] | None = None) -> bool:
        """Say how it ended, if it runs."""
        told = {} if result is None else {"result": result}
        return self._update(Job.State.RUNNING, state=state, message=message, doing="", frame=None, **told)

    def cancel(self) -> None:
        """Ask for an end: at once where it still waits, else at its next report."""
        if not self._update(Job.State.WAITING, state=Job.State.CANCELLED, message="Stopped before it started."):
            self._update(Job.State.RUNNING, cancel_asked=True)
        self.refresh_from_db()

    @property
    def ended(self) -> bool:
        """Whether nothing more will happen."""
        return self.state in (Job.State.DONE, Job.State.FAILED, Job.State.CANCELLED)
