"""The jobs app: what it does when a site has changed."""

from __future__ import annotations

from typing import Any

from django.apps import AppConfig


class JobsConfig(AppConfig):
    """Has a site's picture drawn again after its document has changed."""

    name = "jobs"

    def ready(self) -> None:
        """Listen."""
        from sites.announce import pictures_wanted, site_changed

        site_changed.connect(_draw_again, dispatch_uid="picture")
        pictures_wanted.connect(_draw, dispatch_uid="picture")


def _draw(site: Any, **told: Any) -> None:
    from .queue import ask_for_picture

    ask_for_picture(site, 1)


def _draw_again(site: Any, fresh: bool, **told: Any) -> None:
    from .queue import PICTURE_WAITS, ask_for_picture

    ask_for_picture(site, 1 if fresh else PICTURE_WAITS)
