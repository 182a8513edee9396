"""Problems as the API tells them."""

from __future__ import annotations

from typing import Any

from django.http import JsonResponse


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

    @classmethod
    def of_field(cls, field: str, why: str, status: int = 422) -> Problem:
        """A value, or a file, that cannot be used. :param why: a whole sentence, and what to do."""
        return cls(f"{why} Nothing was changed.", status=status, fields=[{"field": field, "message": why}])

    def body(self) -> dict[str, Any]:
        """The JSON body of the answer."""
        return {"message": self.message, "fields": self.fields, **self.extra}

    def response(self) -> JsonResponse:
        """The whole answer."""
        answer = JsonResponse(self.body(), status=self.status)
        if "retry_after" in self.extra:
            answer["Retry-After"] = str(self.extra["retry_after"])
        return answer
