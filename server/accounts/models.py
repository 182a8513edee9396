"""Wrong tries to sign in, by name and by address."""

from __future__ import annotations

from django.db import models


class WrongTries(models.Model):
    """How often it was tried in vain under one name, or from one address.

    :ivar of: a digest of the name or address; :func:`accounts.patience.of_name` and ``of_address`` make it.
    """

    of = models.CharField(max_length=64, primary_key=True)
    number = models.PositiveIntegerField(default=0)
    latest = models.DateTimeField()

    def __str__(self) -> str:
        return f"{self.number} × {self.of[:8]}"
