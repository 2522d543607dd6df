"""Sites and who may work on them."""

from __future__ import annotations

from collections.abc import Container

from django.conf import settings
from django.db import transaction
from django.db.models import QuerySet
from django.utils.text import slugify

from innerhop.core.addresses import urls
from innerhop.core.names import ids
from innerhop.library.models import Editor, Membership, Site

_RESERVED = {"sign-in", "sign-out", "static"}  # first parts of our own addresses


def of(editor: Editor) -> QuerySet[Site]:
    """The sites an editor may see: those they belong to, and no others."""
    return Site.objects.filter(editors=editor)


@transaction.atomic
def create(name: str, address: str, language: str, editor: Editor, host: str = "") -> Site:
    """A new site, with its first editor, who owns it.

    Raises urls.NotAnAddress when the address is none.
    """
    read = urls.read_site_address(address)
    slug = _free_slug(slugify(name)[:40] or "site")
    pattern = next((h for h in settings.VISITOR_HOSTS if h.startswith("*.")), "*.localhost")
    site: Site = Site.objects.create(
        name=name,
        slug=slug,
        address=read,
        language=language,
        visitor_host=host or f"{slug}{pattern.removeprefix('*')}",
    )
    Membership.objects.create(site=site, editor=editor, role=Membership.Role.OWNER)
    return site


_LONGEST_WORDS = 300


def back_words(words: dict[str, str]) -> dict[str, str]:
    """What readers click to get back up, by language, as a site keeps it. words: as typed;
    "" for what they are used to."""
    plain = {tag: " ".join(said.replace("\0", "").split()) for tag, said in words.items()}
    kept = {tag: said[:_LONGEST_WORDS] for tag, said in plain.items()}
    return {tag: said for tag, said in kept.items() if said}


def frame(site: Site, menu: int | None, footer: str, out: bool) -> dict[str, object]:
    """What pages that came as a body alone are seen in, as a site keeps it."""
    words = " ".join(footer.replace("\0", "").split())[:_LONGEST_WORDS]
    there = site.menu_plans.filter(gone=False, pk=menu).exists() if menu else False
    return {"menu": menu if there else None, "footer": words, "out": out}


def _free_slug(wanted: str) -> str:
    taken = set(Site.everything.filter(slug__startswith=wanted).values_list("slug", flat=True))
    return ids.free(wanted, taken | _RESERVED)


def free_path(site: Site, path: str, taken: Container[str]) -> str:
    """The nearest path to this one that no page of the site has. taken: the keys that
    its pages have."""
    stem, dot, ending = path.rpartition(".html") if path.endswith(".html") else (path, "", "")
    stem, slash = (stem[:-1] or "/home", "/") if stem.endswith("/") else (stem, "")
    number = 2
    while site.key_of(f"{stem}-{number}{slash}{dot}{ending}") in taken:
        number += 1
    return f"{stem}-{number}{slash}{dot}{ending}"
