"""A script as somebody writes it in an hour who wants no more than broken fragments told: the
measure of what `inner-hop check` may take. Lines of what it finds go to standard output."""

from __future__ import annotations

import sys
from pathlib import Path
from urllib.parse import unquote, urldefrag, urljoin

from selectolax.lexbor import LexborHTMLParser


def read(path: Path) -> tuple[set[str], list[str]]:
    """The IDs and names of a page, and its links."""
    tree = LexborHTMLParser(path.read_text(encoding="utf-8", errors="replace"))
    ids = {node.attributes.get("id") or "" for node in tree.css("[id]")}
    ids |= {node.attributes.get("name") or "" for node in tree.css("a[name]")}
    return ids, [node.attributes.get("href") or "" for node in tree.css("a[href], area[href]")]


def main(folder: str) -> int:
    """Tell the broken fragments of the pages in a folder; returns how many there are."""
    root = Path(folder)
    pages = {}
    for path in sorted(root.rglob("*.html")):
        pages[f"/{path.relative_to(root).as_posix()}"] = read(path)
    broken = 0
    for address, (_, links) in pages.items():
        for href in links:
            whole, fragment = urldefrag(urljoin(f"https://x.invalid{address}", href))
            if not fragment or not whole.startswith("https://x.invalid/"):
                continue
            page = pages.get(unquote(whole.removeprefix("https://x.invalid")))
            if page is not None and unquote(fragment) not in page[0]:
                print(f"{address}: {href}")
                broken += 1
    return broken


if __name__ == "__main__":
    main(sys.argv[1])
