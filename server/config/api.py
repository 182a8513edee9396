"""The HTTP API, put together from the apps' routers."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from ninja import NinjaAPI, Schema
from ninja.errors import AuthenticationError, HttpError, ValidationError
from ninja.openapi.schema import OpenAPISchema

from accounts.api import router as accounts
from api.errors import Problem
from api.security import signed_in
from cenote.refused import Refused
from derived.blankets import router as blankets
from derived.daylight import router as daylight
from derived.decals import router as decals
from derived.droplets import router as droplets
from derived.finishes import router as finishes
from derived.foam import router as foam
from derived.grass import router as grass
from derived.ground import router as ground
from derived.heaps import router as heaps
from derived.kit import router as kit
from derived.lamps import router as lamps
from derived.masks import router as masks
from derived.materials import router as materials
from derived.motions import router as motions
from derived.patches import router as patches
from derived.planting import router as planting
from derived.preview import router as preview
from derived.scatters import router as scatters
from derived.scene import router as scene
from derived.shelter import router as shelter
from derived.stills import router as stills
from derived.sunlit import router as sunlit
from derived.surroundings import router as surroundings
from derived.vocabulary import router as vocabulary
from jobs.api import router as jobs
from jobs.imports import router as imports
from library.api import router as library
from sites.api import router as sites


class Refusal(Schema):
    """What went wrong: what happened, what was kept and what to do; and by field."""

    class Field(Schema):
        """What is wrong with one value."""

        field: str
        message: str

    message: str
    fields: list[Field]


# When an operation can answer with what: all of these look alike.
_REFUSALS: dict[int, tuple[str, Callable[[str, dict[str, Any]], bool]]] = {
    400: ("What was sent cannot be read.", lambda method, operation: "requestBody" in operation),
    401: ("Nobody is signed in.", lambda method, operation: True),
    403: ("It does not come from a page of ours.", lambda method, operation: method != "get"),
    404: ("There is no such thing, or it is not the user's.", lambda method, operation: "parameters" in operation),
    409: ("It has changed meanwhile.", lambda method, operation: "requestBody" in operation),
    413: ("It is too large.", lambda method, operation: "requestBody" in operation),
    422: ("A value cannot be used.", lambda method, operation: True),
    429: ("It was asked for too often.", lambda method, operation: operation["operationId"].endswith("sign_in")),
}


class CenoteAPI(NinjaAPI):
    """The API, whose description also tells how each operation refuses."""

    def get_openapi_schema(self, **how: Any) -> OpenAPISchema:
        """The description, with refusals."""
        schema = super().get_openapi_schema(**how)
        for scheme in schema["components"]["securitySchemes"].values():
            # Each installation has a name of its own for it.
            scheme["name"] = "cenote_session"
        told = Refusal.model_json_schema(ref_template="#/components/schemas/{model}")
        schema["components"]["schemas"] |= told.pop("$defs") | {"Refusal": told}
        body = {"application/json": {"schema": {"$ref": "#/components/schemas/Refusal"}}}
        for path in schema["paths"].values():
            for method, operation in path.items():
                for status, (words, can) in _REFUSALS.items():
                    if can(method, operation):
                        operation["responses"].setdefault(status, {"description": words, "content": body})
        return schema


api = CenoteAPI(title="Cenote", version="1", auth=signed_in, docs_url=None, urls_namespace="api")
api.add_router("", accounts)
api.add_router("", sites)
api.add_router("", scene)
api.add_router("", scatters)
api.add_router("", masks)
api.add_router("", preview)
api.add_router("", materials)
api.add_router("", blankets)
api.add_router("", stills)
api.add_router("", finishes)
api.add_router("", motions)
api.add_router("", surroundings)
api.add_router("", shelter)
api.add_router("", foam)
api.add_router("", sunlit)
api.add_router("", daylight)
api.add_router("", decals)
api.add_router("", droplets)
api.add_router("", grass)
api.add_router("", lamps)
api.add_router("", ground)
api.add_router("", heaps)
api.add_router("", kit)
api.add_router("", patches)
api.add_router("", planting)
api.add_router("", vocabulary)
api.add_router("", jobs)
api.add_router("", imports)
api.add_router("", library)


@api.exception_handler(Problem)
def on_problem(request: HttpRequest, problem: Problem) -> HttpResponse:
    """What went wrong, in words and by field."""
    return problem.response()


@api.exception_handler(Refused)
def on_refusal(request: HttpRequest, refusal: Refused) -> HttpResponse:
    """What the core says cannot be done as it was asked."""
    return Problem(str(refusal), status=422).response()


@api.exception_handler(AuthenticationError)
def on_stranger(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
    """Nobody is signed in."""
    return Problem(
        "You are signed out. Sign in again; everything up to your last change is saved.", status=401
    ).response()


@api.exception_handler(Http404)
def on_lost(request: HttpRequest, error: Http404) -> HttpResponse:
    """There is no such thing."""
    return Problem("There is nothing at this address.", status=404).response()


@api.exception_handler(HttpError)
def on_refused(request: HttpRequest, error: HttpError) -> HttpResponse:
    """What the framework refuses: bodies that are no JSON, changes without the token."""
    words = {
        400: "What was sent cannot be read. Nothing was changed.",
        403: "This did not come from a page of Cenote. Nothing was changed; reload the page and try again.",
    }
    return Problem(words.get(error.status_code, str(error)), status=error.status_code).response()


@api.exception_handler(ValidationError)
def on_invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
    """Values that the declarations refuse, in the same form as every other problem."""
    from cenote.site.document import problem_in_words

    # Before the field's own path comes where it was sent, and for a JSON body the endpoint's name for it.
    found = [{**e, "loc": tuple(e["loc"])[2 if e["loc"][0] == "body" else 1 :]} for e in error.errors]
    fields = problem_in_words(found)
    return Problem("Some values cannot be used. Nothing was changed.", status=422, fields=fields).response()
