"""What lies in the store of derived data, and when each thing was last used."""

from __future__ import annotations

from django.db import models


class Blob(models.Model):
    """Some derived bytes. They can be thrown away and made again."""

    name = models.CharField(max_length=120, primary_key=True)
    size = models.PositiveBigIntegerField()
    used = models.DateTimeField(auto_now_add=True)

    class Meta:
        indexes = [models.Index(fields=["used"], name="blob_used")]

    def __str__(self) -> str:
        return self.name
