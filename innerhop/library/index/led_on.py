"""Addresses at which a site's own server sends readers on to others, as was seen when it was
fetched: links to them lead to the pages that readers get."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence

from innerhop.core.addresses import urls
from innerhop.library.index import verdicts
from innerhop.library.models import Link, Site

_MOST = 500  # addresses of a site: they are read with each of its pages


def learn(site: Site, led: Mapping[str, str], pages: Iterable[str]) -> None:
    """Know that addresses, as paths, lead on to others. Only those that end at one of `pages`,
    paths too, are kept, and none that is a page's own. Within a transaction."""
    own = {site.key_of(path) for path in pages} | set(site.pages.values_list("key", flat=True))
    found = {site.key_of(old): site.key_of(_end(led, old)) for old in led}
    new = {key: to for key, to in found.items() if key != to and to in own and key not in own}
    known = {**site.led_on, **new}
    known = dict(list(known.items())[-_MOST:])
    if known == site.led_on:
        return
    site.led_on = known
    site.save(update_fields=["led_on"])
    for key, to in new.items():
        Link.objects.filter(site=site, key=key).update(key=to)
    verdicts.renew_all(site, [], [*new.values()])


def _end(led: Mapping[str, str], path: str) -> str:
    """Where an address leads in the end."""
    seen = {path}
    while (to := led.get(path)) is not None and to not in seen:
        seen.add(to)
        path = to
    return path


def forget(site: Site, keys: Collection[str]) -> Sequence[str]:
    """Pages have these keys from now on, so nobody is sent on from there. Returns those of which
    links know now, to be judged anew. Within a transaction."""
    there = [key for key in keys if key in site.led_on]
    if not there:
        return []
    left = {site.led_on[key] for key in there}
    site.led_on = {key: to for key, to in site.led_on.items() if key not in there}
    site.save(update_fields=["led_on"])
    links = Link.objects.filter(site=site, key__in=left).select_related("page__site")
    for link in links.iterator():
        found = urls.resolve(link.href, link.page.base_address)
        key = site.key_of(found.path) if found else ""
        if key in there:
            Link.objects.filter(pk=link.pk).update(key=key)
    return there
