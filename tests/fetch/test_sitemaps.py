"""Sitemaps, by the examples of https://www.sitemaps.org/protocol.html."""

from __future__ import annotations

import gzip

import pytest

from innerhop.fetch import sitemaps

URLSET = b"""<?xml version="1.0" encoding="UTF-8"?>
<urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">
   <url><loc>http://www.example.com/</loc><lastmod>2005-01-01</lastmod>
      <changefreq>monthly</changefreq><priority>0.8</priority></url>
   <url><loc>http://www.example.com/catalog?item=12&amp;desc=vacation_hawaii</loc>
      <changefreq>weekly</changefreq></url>
</urlset>"""
INDEX = b"""<?xml version="1.0" encoding="UTF-8"?>
<sitemapindex xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">
   <sitemap><loc>http://www.example.com/sitemap1.xml.gz</loc>
      <lastmod>2004-10-01T18:23:17+00:00</lastmod></sitemap>
   <sitemap><loc>http://www.example.com/sitemap2.xml.gz</loc></sitemap>
</sitemapindex>"""
PAGES = ["http://www.example.com/", "http://www.example.com/catalog?item=12&desc=vacation_hawaii"]
MOST = 1_000_000


@pytest.mark.parametrize("data", [URLSET, gzip.compress(URLSET, mtime=0), b"\xef\xbb\xbf" + URLSET])
def test_the_protocols_example(data: bytes) -> None:
    assert sitemaps.read(data, MOST).pages == PAGES


def test_a_list_of_lists() -> None:
    found = sitemaps.read(INDEX, MOST)
    assert [one.rpartition("/")[2] for one in found.lists] == ["sitemap1.xml.gz", "sitemap2.xml.gz"]
    assert found.pages == []


def test_a_plain_text_of_addresses() -> None:
    assert sitemaps.read(b"http://www.example.com/\r\nno address\n", MOST).pages == PAGES[:1]


@pytest.mark.parametrize(
    "data",
    [
        b"",
        b"<",
        b"<html><p>Nothing",
        b"\x1f\x8bnothing",
        gzip.compress(b"<urlset>", mtime=0)[:20],
        b'<!DOCTYPE a [<!ENTITY b "c">]><urlset><url><loc>&b;</loc></url>',
        b"\0" * 50,
    ],
)
def test_what_is_none_names_nothing(data: bytes) -> None:
    assert sitemaps.read(data, MOST) == sitemaps.Addresses()


def test_no_more_is_read_than_the_protocol_allows() -> None:
    rows = b"".join(b"<url><loc>http://a.example/%d</loc></url>" % at for at in range(50_010))
    swollen = gzip.compress(b"<urlset>" + rows + b"</urlset>")
    assert len(sitemaps.read(swollen, 10 * MOST).pages) == 50_000
    assert len(sitemaps.read(swollen, 1_000).pages) < 50  # what is beyond the limit isn't unpacked
