"""The server's ASGI application."""

import os

from django.core.asgi import get_asgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
application = get_asgi_application()

from derived.warm import warm_in_background  # noqa: E402 - Django must be set up first

warm_in_background()
