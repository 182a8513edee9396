"""The stills of a site."""

from __future__ import annotations

import uuid
from typing import Any

from django.core.files.storage import default_storage
from django.db import models

from sites.models import Site

# Where their files lie, among all that is stored.
FOLDER = "stills"


class Still(models.Model):
    """A picture of a shot that is traced, with the site's document as it was when it was asked for."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="stills")
    name = models.CharField(max_length=80)
    shot = models.CharField(max_length=64)
    revision = models.PositiveIntegerField()
    document = models.JSONField()
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    # Left, top, right, bottom of the part that is traced, in shares of its sides; all of it where there is none.
    region = models.JSONField(null=True)
    # Paths for each pixel: wanted, and there.
    wanted = models.PositiveIntegerField()
    samples = models.FloatField(default=0)
    # Names of the picture and of the film to go on from. Both are written anew under other names: nobody reads half of one.
    picture = models.CharField(max_length=120, blank=True)
    film = models.CharField(max_length=120, blank=True)
    bytes = models.PositiveBigIntegerField(default=0)
    # The job that works on it, or did last.
    job = models.UUIDField(null=True)
    # Workers that it is shared with, as far as there are free ones.
    sharers = models.PositiveSmallIntegerField(default=0)
    seconds = models.FloatField(default=0)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-created"]

    def __str__(self) -> str:
        return f"{self.name} {self.width} × {self.height}"

    def take(self, **values: Any) -> bool:
        """Write down what has come of it, and forget the files that this takes the place of. :returns: whether it is still there."""
        old = [
            getattr(self, name)
            for name in ("picture", "film")
            if name in values and getattr(self, name) != values[name]
        ]
        there = bool(Still.objects.filter(pk=self.pk).update(**values))
        for name in old if there else [str(values[name]) for name in ("picture", "film") if name in values]:
            if name:
                default_storage.delete(name)
        for name, value in values.items():
            setattr(self, name, value)
        return there

    def delete_files(self) -> None:
        """Delete its picture and its film."""
        for name in filter(None, (self.picture, self.film)):
            default_storage.delete(name)


class Share(models.Model):
    """What another worker has traced of a still: a film of other seeds, which counts as far as it was kept. There is one while the still is worked on."""

    still = models.ForeignKey(Still, on_delete=models.CASCADE, related_name="shares")
    film = models.CharField(max_length=120, blank=True)
    samples = models.FloatField(default=0)

    def __str__(self) -> str:
        return f"{self.samples:.0f} samples"

    def keep(self, film: str, samples: float) -> bool:
        """Keep a film in place of the one before. :returns: whether it is still wanted; where it is not, the film is deleted."""
        there = bool(Share.objects.filter(pk=self.pk).update(film=film, samples=samples))
        old, self.film, self.samples = (self.film if there else film), film, samples
        if old:
            default_storage.delete(old)
        return there
