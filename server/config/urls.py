"""Addresses: the API, the event stream, and the web application for everything else."""

from django.conf import settings
from django.http import FileResponse, HttpRequest, HttpResponse, HttpResponseBase
from django.urls import path, re_path

from config.api import api
from jobs.events import site_events

# What Django itself refuses, before or after our own code, is told in the same form as every other problem.
handler400, handler403, handler404, handler500 = (
    "config.problems." + name for name in ("bad", "forbidden", "lost", "ours")
)


def web_app(request: HttpRequest) -> HttpResponseBase:
    """The page of the web application, whatever address inside it was asked for."""
    page = settings.WEB_BUILD / "index.html"
    if not page.is_file():
        return HttpResponse("The web application is not built yet. Run ./cenote start.", status=503)
    response = FileResponse(page.open("rb"), content_type="text/html; charset=utf-8")
    response["Cache-Control"] = "no-cache"
    return response


urlpatterns = [
    path("api/sites/<uuid:site_id>/events", site_events),
    path("api/", api.urls),
    re_path(r"^(?!api/|assets/|static/).*$", web_app),
]
