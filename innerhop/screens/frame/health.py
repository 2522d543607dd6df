"""Whether this process lives, and whether it can do its work: for what starts it, and for what
sends people to it."""

from __future__ import annotations

from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor
from django.http import HttpRequest, HttpResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_safe


@never_cache
@require_safe
def alive(_request: HttpRequest) -> HttpResponse:
    """Whoever answers lives."""
    return HttpResponse("alive\n", content_type="text/plain")


@never_cache
@require_safe
def ready(_request: HttpRequest) -> HttpResponse:
    """Whether the database answers, and is as this version wants it; 503 where not."""
    try:
        executor = MigrationExecutor(connection)
        behind = executor.migration_plan(executor.loader.graph.leaf_nodes())
    except DatabaseError:
        said, status = "the database does not answer", 503
    else:
        said, status = ("migrations wait", 503) if behind else ("ready", 200)
    headers = {"Retry-After": "10"} if status != 200 else {}
    return HttpResponse(f"{said}\n", status=status, content_type="text/plain", headers=headers)
