"""What a kind of job is. To add one, add a file to ``jobs/kinds`` with a class that registers itself."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any, ClassVar

from cenote.registry import Family

if TYPE_CHECKING:
    from cenote.derive.graph import Progress

    from .models import Job


class Work:
    """A kind of job.

    :cvar patient: whether it has time: it does not begin while its user waits for other work, and comes after the work of others.
    :cvar lasting: whether it may last as long as it takes.
    :cvar kind: its name in the database and in the API. :cvar title: what it is called while it goes on.
    :cvar files: endings of the files that it makes, with their media types; such a job stays listed for its site.
    """

    kind: ClassVar[str]
    title: ClassVar[str]
    patient: ClassVar[bool] = False
    lasting: ClassVar[bool] = False
    files: ClassVar[Mapping[str, str]] = {}

    def do(self, job: Job, progress: Progress) -> dict[str, Any]:
        """Do it.

        :param progress: reports; raises :class:`cenote.derive.graph.Cancelled` when somebody has asked for an end.
        :returns: what pages are told of the outcome.
        """
        raise NotImplementedError


WORK: Family[type[Work]] = Family("jobs.kinds", "kind of job")
