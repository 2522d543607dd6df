"""Who may do what: owners, editors and readers of a site, asked of every address and every act."""

from __future__ import annotations

import json
import os
import random
import re
from collections import Counter

import pytest
from django.test import Client
from django.urls import NoReverseMatch, reverse

from innerhop.library import doing, sites
from innerhop.library.acts.table import ACTS, SITE_ACTS
from innerhop.library.changes import undo
from innerhop.library.changes.effect_kinds import NobodyOwns
from innerhop.library.models import BringIn, Change, Editor, Job, Membership, SetAside, Site
from innerhop.screens.urls import urlpatterns
from innerhop.visitor import passes
from tests.library.test_any_acts import sent as some_act
from tests.screens.test_history import marked, member, signed_in
from tests.screens.test_hostile_input import REQUESTS, bodies

pytestmark = pytest.mark.django_db
ROLE = Membership.Role
# What is asked for by POST, and makes nothing of the site another: facts of how pages lie among
# it, which any browser finds the same.
LOOKS = {"ask", "catch-up", "measure", "layout", "walked", "here"}
OWNERS = {"settings", "people", "keep-page"}


def addresses(site: Site) -> list[tuple[str, str]]:
    """Every address of a site's screens, by its name."""
    page = site.pages.first()
    assert page is not None
    found = []
    for one in urlpatterns:
        name = getattr(one, "name", "") or ""
        rest = [() if "<int:pk>" not in str(one.pattern) else (page.pk,)]
        for more in ((), ("mark",), ("lies",), ("svg",), ("csv",)):
            if not str(one.pattern).startswith("<slug:slug>/"):
                break
            try:
                found.append((name, reverse(name, args=[site.slug, *rest[0], *more])))
                break
            except NoReverseMatch:
                continue
    return found


def kept(site: Site) -> list[int]:
    models = (Change, BringIn, Job, SetAside)
    return [model.objects.filter(site=site).count() for model in models]


def test_whatever_a_reader_asks_nothing_becomes_another(site: Site) -> None:
    reader, before = signed_in(member(site, "ada", ROLE.READER)), kept(site)
    tried = 0
    for name, url in addresses(site):
        for kind in ("application/json", "application/x-www-form-urlencoded"):
            answer = reader.post(url, "{}", content_type=kind)
            expected = {200, 422, 404, 409} if name in LOOKS else {403}
            if name == "site-back":  # which is not deleted
                expected = {404}
            assert answer.status_code in expected | {405}, (name, answer.status_code)
            tried += answer.status_code == 403
    assert tried > 50
    assert kept(site) == before


def test_a_reader_sees_all_and_who_may_change_it(site: Site, editor: Editor) -> None:
    reader, page = signed_in(member(site, "ada", ROLE.READER)), site.pages.first()
    assert page is not None
    names = ("pages", "map", "menus", "findings", "live", "hand-over", "history", "rehearsal",
             "settings", "people", "copy-sheet", "site-file")  # fmt: skip
    for url in [*(reverse(name, args=[site.slug]) for name in names), page.get_absolute_url()]:
        answer = reader.get(url)
        assert answer.status_code == 200, url
        if "text/html" in answer["Content-Type"]:
            assert "You read this site, and change nothing on it." in answer.content.decode()
            assert "On this site, that is for Demo to do." in answer.content.decode()


@pytest.mark.parametrize("kind", [*ACTS, *SITE_ACTS])
def test_each_act_is_for_somebody(site: Site, editor: Editor, kind: str) -> None:
    for role, may in ((ROLE.READER, False), (ROLE.EDITOR, kind not in OWNERS), (ROLE.OWNER, True)):
        assert doing.allows(Membership(site=site, editor=editor, role=role), kind) is may


def sent(client: Client, site: Site, **asked: object) -> str:
    """What an owner says on the screen of people; the answer, "" where it was done."""
    answer = client.post(f"/{site.slug}/people/", asked)
    if answer.status_code == 302:
        return ""
    said = re.search(r'role="alert"[^>]*>([^<]*)|<p class="mt-2 max[^>]*>([^<]*)',
                     answer.content.decode())  # fmt: skip
    assert said is not None
    return said.group(1) or said.group(2)


def test_an_owner_lets_in_gives_parts_and_lets_out(
    client: Client, site: Site, editor: Editor
) -> None:
    jo = Editor.objects.create_user("jo", first_name="Jo", last_name="Barrow")
    assert "Nobody here signs in as “j”" in sent(client, site, name="j", role="editor")
    assert not sent(client, site, name="jo", role="editor", hands_over="on")
    assert not sent(client, site, editor=jo.pk, role="reader")
    there = Membership.objects.get(site=site, editor=jo)
    assert (there.role, there.hands_over) == ("reader", False)
    said = [one.message for one in site.changes.all()]
    assert said == ["Made Jo Barrow a reader, who may not hand over",
                    "Let Jo Barrow in as an editor"]  # fmt: skip
    undo.undo(site.changes.all()[0])
    there.refresh_from_db()
    assert (there.role, there.hands_over) == ("editor", True)
    assert not sent(client, site, editor=jo.pk, out="1")
    assert not Membership.objects.filter(site=site, editor=jo).exists()


def test_a_site_is_never_without_an_owner(client: Client, site: Site, editor: Editor) -> None:
    assert "at least one owner" in sent(client, site, editor=editor.pk, role="reader")
    assert "at least one owner" in sent(client, site, editor=editor.pk, out="1")
    jo = member(site, "jo", ROLE.OWNER)
    made = doing.do(editor, "people", site, {"editor": editor.pk, "role": "", "hands_over": True})
    with pytest.raises(NobodyOwns):
        doing.do(jo, "people", site, {"editor": jo.pk, "role": "reader", "hands_over": True})
    undo.undo(made, jo)
    assert Membership.objects.get(site=site, editor=editor).role == ROLE.OWNER


def test_who_owned_a_site_takes_back_nothing_that_only_owners_do(
    site: Site, editor: Editor
) -> None:
    jo = member(site, "jo", ROLE.OWNER)
    asked = {"editor": editor.pk, "role": "reader", "hands_over": True}
    doing.do(editor, "people", site, asked | {"editor": member(site, "mo").pk})
    own = doing.do(editor, "people", site, asked | {"role": "editor"})
    with pytest.raises(doing.MayNot, match="that is for jo to do"):
        doing.turn(editor, own, undone=True)
    doing.turn(jo, own, undone=True)


def test_nobody_else_says_who_may_do_what(site: Site, editor: Editor) -> None:
    jo = signed_in(member(site, "jo"))
    assert "On this site, that is for Demo to do." in sent(
        jo, site, editor=editor.pk, role="reader"
    )
    assert b"Let somebody in" not in jo.get(f"/{site.slug}/people/").content


def test_who_is_let_out_is_out_at_once(site: Site, editor: Editor) -> None:
    jo = member(site, "jo")
    screens, page = signed_in(jo), site.pages.get(path="/about/")
    visitor = Client(SERVER_NAME=site.visitor_host)
    visitor.get("/-/enter", {"pass": passes.to_enter(site.pk, jo.pk), "to": "/"})
    sheet = f"/-/sheet/{passes.for_sheet(page.pk, page.revision, jo.pk)}/about/"
    ways = [(screens, f"/{site.slug}/"), (visitor, "/about/"), (visitor, sheet)]
    assert [one.get(url).status_code for one, url in ways] == [200, 200, 200]
    doing.do(editor, "people", site, {"editor": jo.pk, "role": "", "hands_over": True})
    assert [one.get(url).status_code for one, url in ways] == [404, 403, 403]
    entering = {"pass": passes.to_enter(site.pk, jo.pk), "to": "/"}
    assert visitor.get("/-/enter", entering).status_code == 403


def test_a_page_is_kept_for_some(client: Client, site: Site, editor: Editor) -> None:
    jo, mo = member(site, "jo"), member(site, "mo")
    page = site.pages.get(path="/about/")
    before = marked(site, mo, "by-mo", page.path)
    url = f"/{site.slug}/people/"
    kept = {"page": page.pk, "for": [jo.pk, editor.pk, 99_999]}
    assert client.post(url, kept).status_code == 302
    page.refresh_from_db()
    assert page.kept_for == [jo.pk], "owners may all the same, and others are nobody"
    shown = signed_in(mo).get(url).content.decode()
    assert "for jo and the owners" in shown
    number = page.marks.filter(attribute="id", tag__startswith="h")[0].number
    tries = [
        lambda who: doing.do(who, "rename", page, {"number": number, "id": f"x-{who.pk}"}),
        lambda who: doing.planned(who, "remove", site, {"page": page.pk}),
        lambda who: doing.planned(who, "move-page", page, {"path": "/us/"}),
    ]
    for attempt in tries:
        with pytest.raises(doing.MayNot, match="“About the Trust” is kept for jo"):
            attempt(mo)
    with pytest.raises(doing.MayNot, match="kept for jo"):
        doing.turn(mo, before, undone=True)
    for who in (jo, editor):
        page.refresh_from_db()
        tries[0](who)
    marked(site, mo, "elsewhere", "/moorings/")
    assert signed_in(jo).post(url, kept).status_code == 403
    assert client.post(url, {"page": page.pk, "all": "1"}).status_code == 302
    page.refresh_from_db()
    tries[1](mo)
    change = site.changes.filter(act="keep-page")[0]
    assert change.message == "Let all change “About the Trust”"
    undo.undo(change)
    page.refresh_from_db()
    assert page.kept_for == [jo.pk]


def test_pages_are_taken_out_by_who_may(site: Site, editor: Editor) -> None:
    jo = member(site, "jo")
    Membership.objects.filter(editor=jo).update(hands_over=False)
    client, page = signed_in(jo), site.pages.first()
    assert page is not None
    marked(site, jo, "one")
    for url in (
        reverse("site-file", args=[site.slug]),
        reverse("copy-sheet", args=[site.slug]),
        reverse("copy-file", args=[site.slug, "csv"]),
        reverse("moves-file", args=[site.slug]),
        reverse("page-file", args=[site.slug, page.pk]),
    ):
        assert client.get(url).status_code == 403, url
    shown = client.get(f"/{site.slug}/hand-over/").content.decode()
    assert "site.zip" not in shown
    assert "On this site, that is for Demo to do." in shown


def texts(site: Site) -> list[tuple[object, ...]]:
    """What an act could make another: texts, addresses, and what is kept of pages."""
    return sorted(site.pages.values_list("pk", "path", "revision", "kept_for"))


def test_whatever_anybody_asks_at_random(site: Site, editor: Editor) -> None:
    """Owners, editors, readers, others' editors and those who were let out, all acts of the table,
    of pages that are kept for one among them, and undo: what nobody may is not done, and said."""
    seed = int(os.environ.get("FUZZ_SEED", random.randrange(10**6)))
    print(f"FUZZ_SEED={seed}")
    chance = random.Random(seed)
    jo, ada = member(site, "jo"), member(site, "ada", ROLE.READER)
    out = Editor.objects.create_user("out")
    other = sites.create("Other", "other.example", "en", Editor.objects.create_user("other"))
    people = {"owner": editor, "editor": jo, "reader": ada, "out": out,
              "other": other.editors.get()}  # fmt: skip
    clients = {role: signed_in(one) for role, one in people.items()}
    page = site.pages.get(path="/about/")
    kim = member(site, "kim")
    odd_ones = bodies(chance, [page.pk, *range(0, 40, 3)])
    answers: Counter[tuple[str, int]] = Counter()
    for _ in range(REQUESTS // 4):
        role, name = chance.choice(list(people)), chance.choice([*ACTS, "undo", "redo"])
        if not site.pages.get(pk=page.pk).kept_for:  # or taken back
            doing.do(editor, "keep-page", site, {"page": page.pk, "editors": [kim.pk]})
        one = chance.choice([page, page, page, *site.pages.select_related("site")])
        is_act = name in ACTS
        more = [name] if is_act else []
        url = reverse("act" if is_act else name, args=[site.slug, one.pk, *more])
        sent = some_act(chance, one, name) | {"revision": one.revision}
        body = json.dumps(sent).encode() if chance.random() < 0.8 else next(odd_ones)
        before = kept(site), texts(site)
        answer = clients[role].post(url, body, "application/json",
                                    headers={"accept": "application/json"})  # fmt: skip
        about = (seed, role, url, body[:300], answer.status_code)
        done = b"".join(answer) if answer.streaming else answer.content
        answers[role, answer.status_code] += 1
        if role in ("out", "other"):
            assert answer.status_code == 404, about
        elif role == "reader":
            assert answer.status_code == 403, about
        else:
            assert answer.status_code in (200, 403, 404, 409, 422), about
        if role not in ("owner", "editor") or answer.status_code != 200:
            assert (kept(site), texts(site)) == before, about
        if role == "editor":  # whatever is done on others, a page that is kept is as it was
            was, now = (next(row for row in some if row[0] == page.pk)
                        for some in (before[1], texts(site)))  # fmt: skip
            assert now == was, (about, done[:300])
    assert answers["owner", 200] > 0 < answers["editor", 200]
    assert answers["editor", 403] > 0, "of the page that is kept"
