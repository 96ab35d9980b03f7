"""What a supervisor and a collector of logs ask of a server: whether it lives, is ready, and what it did."""

import json
import logging
import time
from collections.abc import Callable

from django.conf import settings
from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_safe
from django_prometheus.exports import ExportToDjangoView

logger = logging.getLogger("heron.requests")


@require_safe
@never_cache
def health(request: HttpRequest) -> HttpResponse:
    """The process answers."""
    return JsonResponse({"status": "ok"})


@require_safe
@never_cache
def ready(request: HttpRequest) -> HttpResponse:
    """The process can do its work: the database answers, and stands as this version of the code wants it."""
    try:
        executor = MigrationExecutor(connection)
        behind = bool(executor.migration_plan(executor.loader.graph.leaf_nodes()))
    except DatabaseError:
        return JsonResponse({"status": "no database"}, status=503)
    return JsonResponse({"status": "migrations to run" if behind else "ok"}, status=503 if behind else 200)


@require_safe
@never_cache
def metrics(request: HttpRequest) -> HttpResponse:
    """What all web workers of this machine did since they began, for Prometheus; for the addresses that may ask."""
    if request.META.get("REMOTE_ADDR") not in settings.METRICS_FROM:
        return HttpResponse("There is nothing here.\n", content_type="text/plain", status=404)
    told: HttpResponse = ExportToDjangoView(request)
    return told


class RequestLog:
    """One line of JSON a request: what was asked for and how it went, and nothing of what it held."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if not logger.isEnabledFor(logging.INFO):
            return self.get_response(request)
        began = time.monotonic()
        response = self.get_response(request)
        match = request.resolver_match
        logger.info(json.dumps({
            "at": time.strftime("%Y-%m-%dT%H:%M:%SZ", time.gmtime()), "method": request.method,
            # The pattern, not the address: no name, no key and no question stands in the log.
            "route": match.route if match else "static" if request.path.startswith("/static/") else "",
            "status": response.status_code,
            "ms": round(1000 * (time.monotonic() - began)),
        }))  # fmt: skip
        return response
