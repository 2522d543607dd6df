"""Pages and the editors' session are kept apart: by host name, by cookie, by what is refused."""

from __future__ import annotations

import pytest
from django.conf import LazySettings
from django.test import Client

from innerhop.library.models import Site
from innerhop.visitor import checks, passes


@pytest.mark.parametrize(
    ("editors", "visitors", "meets"),
    [
        ("hop.example", "*.pages.example", False),
        ("hop.trust.example", "*.trust.example", True),
        ("trust.example", "pages.trust.example", True),
        # Names under which anybody can have one are no domain of one's own: publicsuffix.org.
        ("editors.github.io", "*.github.io", False),
        ("hop.trust.co.uk", "*.pages.co.uk", False),
        ("hop.trust.co.uk", "*.trust.co.uk", True),
        ("127.0.0.1", "*.localhost", False),
        ("10.0.0.1", "10.0.0.1", True),
    ],
)
def test_visitor_hosts_under_the_editors_own_domain_are_refused(
    settings: LazySettings, editors: str, visitors: str, meets: bool
) -> None:
    settings.EDITOR_HOSTS, settings.VISITOR_HOSTS = [editors], ["localhost", visitors]
    found = checks.hosts_apart()
    assert [one.id for one in found] == ["innerhop.E001"] * meets
    assert all(editors in one.msg for one in found)


@pytest.mark.django_db
def test_over_tls_a_visitor_is_known_by_a_cookie_of_this_host_alone(site: Site) -> None:
    """RFC 6265bis, 4.1.3.2: `__Host-` asks for Secure, Path=/ and no Domain."""
    client = Client(SERVER_NAME="localhost")
    asked = {"pass": passes.to_enter(site.pk), "to": "/"}
    cookie = client.get("/-/enter", asked, secure=True).cookies[f"__Host-{passes.COOKIE}"]
    assert (cookie["secure"], cookie["path"], cookie["domain"]) == (True, "/", "")
    assert client.get("/about/", secure=True).status_code == 200
    # The plain one, which a sibling host could have set, counts for nothing there.
    planted = Client(SERVER_NAME="localhost")
    planted.cookies[passes.COOKIE] = cookie.value
    assert planted.get("/about/", secure=True).status_code == 403


@pytest.mark.django_db
def test_the_script_of_a_service_worker_is_not_given_as_one(site: Site) -> None:
    client = Client(SERVER_NAME="localhost")
    client.get("/-/enter", {"pass": passes.to_enter(site.pk), "to": "/"})
    for path in ("/about/", "/pictures/cut.svg", "/-/enter"):
        answer = client.get(path, headers={"service-worker": "script"})
        assert (answer.status_code, "Service-Worker-Allowed" in answer.headers) == (403, False)
