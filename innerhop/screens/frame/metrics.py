"""What Prometheus asks for: how often, how long and with what end screens were asked for, and
what long work waits.

https://prometheus.io/docs/instrumenting/exposition_formats/
"""

from __future__ import annotations

import os
from collections.abc import Iterator

from django.conf import settings
from django.db.models import Count
from django.http import Http404, HttpRequest, HttpResponse
from django.utils.crypto import constant_time_compare
from django.views.decorators.http import require_safe
from prometheus_client import CONTENT_TYPE_LATEST, REGISTRY, CollectorRegistry, generate_latest
from prometheus_client.core import GaugeMetricFamily
from prometheus_client.multiprocess import MultiProcessCollector
from prometheus_client.registry import Collector

from innerhop.library.models import Job, Page, Site


class _Kept(Collector):
    """What the database holds that somebody on watch wants to know."""

    def collect(self) -> Iterator[GaugeMetricFamily]:
        jobs = GaugeMetricFamily("inner_hop_jobs", "Long work, by its state", labels=["state"])
        counts = dict(Job.objects.order_by().values_list("state").annotate(Count("pk")))
        for state in Job.State.values:
            jobs.add_metric([state], counts.get(state, 0))
        yield jobs
        yield GaugeMetricFamily("inner_hop_sites", "Sites", Site.objects.count())
        yield GaugeMetricFamily("inner_hop_pages", "Pages of all sites", Page.objects.count())


@require_safe
def metrics(request: HttpRequest) -> HttpResponse:
    """For who knows METRICS_KEY (RFC 6750, 2.1); where none is set, nothing is here."""
    if not settings.METRICS_KEY:
        raise Http404
    said = request.headers.get("Authorization", "")
    if not constant_time_compare(said, f"Bearer {settings.METRICS_KEY}"):
        return HttpResponse(status=401, headers={"WWW-Authenticate": "Bearer"})
    asked = REGISTRY
    if "PROMETHEUS_MULTIPROC_DIR" in os.environ:  # of all processes, not of this one alone
        asked = CollectorRegistry()
        MultiProcessCollector(asked)  # type: ignore[no-untyped-call]
    kept = CollectorRegistry()
    kept.register(_Kept())
    told = generate_latest(asked) + generate_latest(kept)
    return HttpResponse(told, content_type=CONTENT_TYPE_LATEST)
