"""Problems as the API tells them."""

from __future__ import annotations

from typing import Any


class Problem(Exception):
    """Something a user can understand and act on.

    :param message: what happened, what was kept and what to do.
    :param fields: what is wrong with single fields: ``{"field", "message"}`` each.
    :param extra: further values for the page.
    """

    def __init__(
        self, message: str, *, status: int = 400, fields: list[dict[str, str]] | None = None, **extra: Any
    ) -> None:
        super().__init__(message)
        self.message, self.status, self.fields, self.extra = message, status, fields or [], extra

    def body(self) -> dict[str, Any]:
        """The JSON body of the answer."""
        return {"message": self.message, "fields": self.fields, **self.extra}
