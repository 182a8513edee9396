"""What a user keeps for all of their sites."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models


class LibraryEntry(models.Model):
    """A recipe under a name, apart from any site."""

    class Kind(models.TextChoices):
        """What it is."""

        COVER = "cover"
        MOOD = "mood"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="library")
    kind = models.CharField(max_length=20, choices=Kind)
    name = models.CharField(max_length=80)
    content = models.JSONField()
    # The name of the site that it came from, as it was then.
    site = models.CharField(max_length=120, blank=True)
    created = models.DateTimeField(auto_now_add=True)
    deleted = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["name", "created"]
        verbose_name_plural = "library entries"

    def __str__(self) -> str:
        return self.name
