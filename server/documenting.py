"""What the API's document says of operations beyond their schemas: refusals, envelopes and files."""

from typing import Any

from django.http import HttpRequest
from ninja import NinjaAPI
from ninja.openapi.schema import OpenAPISchema

from server.problems import DOCUMENTED, Problem

_BINARY = {"type": "string", "format": "binary"}
# Of operations whose answer is an envelope (see docs/api.md): the schema is of what it holds.
ENVELOPED = {"x-envelope": True}


# Operations that are posted since what they ask is long, and change nothing: who may only read may ask them.
QUESTIONS = frozenset({
    "api/plates/scenes", "api/plates/words", "api/plates/data", "api/plates/picture", "api/plates/page",
    "api/table-plates/shown", "api/table-plates/file", "api/studies/<study_id>/reports/composed",
    "api/studies/<study_id>/methods", "api/tables/<table_id>/readings/enclosed",
    "api/tables/<table_id>/readings/pull", "api/tables/<table_id>/readings/weigh",
})  # fmt: skip


def asks_only(request: HttpRequest) -> bool:
    """Whether a request can change nothing."""
    match = request.resolver_match
    return request.method in ("GET", "HEAD") or (match is not None and match.route in QUESTIONS)


def file_of(*media: str) -> dict[str, Any]:
    """Of operations whose answer is a file, of one of these types."""
    return {"x-media": media}


class DocumentedAPI(NinjaAPI):
    """The document says of every operation how it refuses, and in which form it answers."""

    def get_openapi_schema(self, *args: Any, **kwargs: Any) -> OpenAPISchema:
        document = super().get_openapi_schema(*args, **kwargs)
        document["components"]["schemas"]["Problem"] = Problem.model_json_schema()
        document["components"]["responses"] = {"Problem": DOCUMENTED}
        for operation in (operation for path in document["paths"].values() for operation in path.values()):
            answers = {str(status): answer for status, answer in operation["responses"].items()}
            if operation.pop("x-envelope", False):
                held = answers["200"]["content"]["application/json"]["schema"]
                answers["200"]["content"] = {"application/octet-stream": {"schema": {**_BINARY, "x-holds": held}}}
                answers["304"] = {"description": "As it was when the tag was given."}
            media = operation.pop("x-media", ())
            if media:
                answers["200"]["content"] = {kind: {"schema": {} if "json" in kind else _BINARY} for kind in media}
            refusals = {status: {"$ref": "#/components/responses/Problem"} for status in ("4XX", "5XX")}
            operation["responses"] = {**answers, **refusals}
        return document
