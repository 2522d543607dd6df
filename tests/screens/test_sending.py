"""How answers are sent, and what works without scripts."""

from __future__ import annotations

import gzip
import re

import pytest
from django.test import Client
from django.urls import reverse

from innerhop.library.models import BringIn, Site

pytestmark = pytest.mark.django_db


def test_answers_are_compressed_and_built_files_are_kept_for_good(
    site: Site, client: Client
) -> None:
    """RFC 9110, 8.4 (content coding); RFC 8246 (immutable)."""
    url = reverse("pages", args=[site.slug])
    plain, packed = client.get(url), client.get(url, headers={"Accept-Encoding": "gzip"})
    assert packed["Content-Encoding"] == "gzip"
    assert b"Moorings and charges" in gzip.decompress(packed.content)
    assert len(packed.content) < len(plain.content) / 3
    assert plain["Cache-Control"] == "private, no-cache"
    built = re.findall(r'(?:href|src)="(/static/dist/[^"]+)"', plain.content.decode())
    assert len(built) == 4  # two fonts to preload, style sheet, script
    for address in built:
        assert "immutable" in client.get(address)["Cache-Control"]


def test_progress_comes_line_by_line_all_the_same(site: Site, client: Client) -> None:
    sent = {"markup": "<h1>x</h1>", "kind": "body", "address": "/x/", "taken": "keep"}
    headers = {"Accept": "application/json", "Accept-Encoding": "gzip"}
    answer = client.post(reverse("send-markup", args=[site.slug]), sent, headers=headers)
    assert answer.streaming
    assert not answer.has_header("Content-Encoding")
    assert len(list(answer)) >= 2  # type: ignore[call-overload]


def test_pasting_without_scripts_answers_with_a_page(site: Site, client: Client) -> None:
    url = reverse("send-markup", args=[site.slug])
    typed = {
        "markup": "<h1>Typed at length</h1><h2>Part",
        "kind": "whole",
        "address": "https://elsewhere.example/x/",
    }
    refused = client.post(url, typed)
    assert refused.status_code == 422
    assert "Typed at length" in refused.content.decode()  # nothing that was typed is lost
    assert 'role="alert"' in refused.content.decode()
    done = client.post(url, {**typed, "address": "/typed/"}, follow=True).content.decode()
    assert "1 page came in" in done
    assert "taken from the paths" not in done  # it was typed
    assert "On <b>1</b> page some sections have no mark" in done


def test_the_account_says_what_is_broken(site: Site, client: Client) -> None:
    first = BringIn.objects.get(site=site)
    shown = client.get(reverse("came-in", args=[site.slug, first.pk])).content.decode()
    broken = sum(site.pages.values_list("broken_count", flat=True))
    assert f"<b>{broken}</b> of their hops are broken" in shown
    assert "taken from the paths of the files" in shown
