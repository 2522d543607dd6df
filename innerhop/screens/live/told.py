"""How editors hear of what broke on the site: every morning, by a feed, by mail."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django import forms
from django.conf import settings
from django.contrib.syndication.views import Feed
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.utils.feedgenerator import Atom1Feed
from django.utils.html import format_html_join
from django.views.decorators.http import require_POST

from innerhop.library import doing
from innerhop.library.live import mornings, telling
from innerhop.library.models import Look, Site
from innerhop.screens.access import editor_of, for_members
from innerhop.screens.live.views import shown


class Mailing(forms.Form):
    """Where mails go."""

    address = forms.EmailField(
        max_length=254,
        error_messages={
            "required": "Type the address that mails are to go to.",
            "invalid": "That is no mail address. One looks like jo@example.org.",
            "max_length": "A mail address has up to 254 characters.",
        },
    )


@require_POST
@for_members
def settle(request: HttpRequest, site: Site) -> HttpResponse:
    """Set when the site is looked at, or how its editors hear of it."""
    editor, wish = editor_of(request), request.POST.get("set", "")
    if wish not in ("mails", "no-mails"):  # what is for oneself alone
        doing.require(editor, site, "live")
    if wish in ("daily", "asked"):
        mornings.set_daily(site, wish == "daily")
    elif wish == "feed":
        telling.new_feed_key(site)
    elif wish == "no-feed":
        telling.end_feed(site)
    elif wish == "no-mails":
        telling.set_mailing(editor, site, False)
    elif wish == "mails":
        form = Mailing(request.POST)
        if not form.is_valid():
            return shown(request, site, mail=form)
        telling.set_mailing(editor, site, True, form.cleaned_data["address"])
    else:
        raise Http404
    return redirect("live", site.slug)


class Broke(Feed):  # type: ignore[type-arg]
    """What broke on a site, and what works again, look by look: for those who know its address
    (RFC 4287)."""

    feed_type = Atom1Feed
    author_name = "Inner Hop"

    def get_object(self, request: HttpRequest, *args: Any, **kwargs: Any) -> Site:
        """The site whose feed has that key."""
        site: Site = get_object_or_404(Site, feed_key=kwargs["key"])
        return site

    def title(self, site: Site) -> str:
        """What the feed is called."""
        return f"Hops of {site.name}"

    def subtitle(self, site: Site) -> str:
        """What it tells."""
        return f"What broke on {site.address}, and what works again."

    def link(self, site: Site) -> str:
        """Where it is looked at."""
        return where(site)

    def feed_url(self, site: Site) -> str:
        """Its own address."""
        return feed_address(site)

    def feed_guid(self, site: Site) -> str:
        """What it is known by, wherever it is served: its key is told to nobody by that."""
        return tag(site, "feed")

    def items(self, site: Site) -> list[Look]:
        """The looks that found something new."""
        return telling.in_feed(site)

    def item_title(self, item: Any) -> str:
        """What a look found."""
        return telling.title(item)

    def item_description(self, item: Any) -> str:
        """The same, hop by hop."""
        said = telling.lines(item.changed)
        return format_html_join("", "<p>{}</p>", ((one,) for one in said))

    def item_link(self, item: Any) -> str:
        """Where it is looked at."""
        return f"{where(item.site)}?look={item.pk}"

    def item_guid(self, item: Any) -> str:
        """What it is known by."""
        return tag(item.site, f"look-{item.pk}")

    def item_pubdate(self, item: Any) -> datetime:
        """When it was."""
        made: datetime = item.made
        return made

    def item_updateddate(self, item: Any) -> datetime:
        """When it was, for nothing of it changes."""
        return self.item_pubdate(item)


def where(site: Site) -> str:
    """The whole address of a site's Live."""
    return settings.EDITOR_ADDRESS + reverse("live", args=[site.slug])


def feed_address(site: Site) -> str:
    """The whole address of a site's feed; "" where it has none."""
    if not site.feed_key:
        return ""
    return settings.EDITOR_ADDRESS + reverse("feed", args=[site.feed_key])


def tag(site: Site, name: str) -> str:
    """A name for good (RFC 4151)."""
    return f"tag:inner-hop.invalid,2026:{site.pk}/{name}"
