"""The HTTP API, put together from the apps' routers."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import ValidationError

from accounts.api import router as accounts
from api.errors import Problem
from api.security import signed_in
from derived.blankets import router as blankets
from derived.ground import router as ground
from derived.heaps import router as heaps
from derived.kit import router as kit
from derived.masks import router as masks
from derived.materials import router as materials
from derived.planting import router as planting
from derived.preview import router as preview
from derived.scatters import router as scatters
from derived.scene import router as scene
from derived.vocabulary import router as vocabulary
from jobs.api import router as jobs
from jobs.imports import router as imports
from library.api import router as library
from sites.api import router as sites

api = NinjaAPI(title="Cenote", version="1", auth=signed_in, docs_url=None, urls_namespace="api")
api.add_router("", accounts)
api.add_router("", sites)
api.add_router("", scene)
api.add_router("", scatters)
api.add_router("", masks)
api.add_router("", preview)
api.add_router("", materials)
api.add_router("", blankets)
api.add_router("", ground)
api.add_router("", heaps)
api.add_router("", kit)
api.add_router("", planting)
api.add_router("", vocabulary)
api.add_router("", jobs)
api.add_router("", imports)
api.add_router("", library)


@api.exception_handler(Problem)
def on_problem(request: HttpRequest, problem: Problem) -> HttpResponse:
    """What went wrong, in words and by field."""
    return api.create_response(request, problem.body(), status=problem.status)


@api.exception_handler(ValidationError)
def on_invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
    """Values that the declarations refuse, in the same form as every other problem."""
    from cenote.site.document import problem_in_words

    # Before the field's own path comes where it was sent, and for a JSON body the endpoint's name for it.
    found = [{**e, "loc": tuple(e["loc"])[2 if e["loc"][0] == "body" else 1 :]} for e in error.errors]
    problem = Problem("Some values cannot be used. Nothing was changed.", fields=problem_in_words(found))
    return api.create_response(request, problem.body(), status=422)
