"""`inner-hop check`: hold a folder or ZIP of pages against the rules."""

from __future__ import annotations

import argparse
import io
import sys
import tempfile
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path

from innerhop.check import files, fixing, formats, live, report
from innerhop.check.cache import Cache, usual_folder
from innerhop.check.reading import FileSite, Options, Progress, site_of, workers
from innerhop.core.addresses import urls
from innerhop.core.addresses.urls import NotAnAddress, read_site_address
from innerhop.core.findings.found import BETTER, LEVELS, MISLED, STUCK
from innerhop.core.findings.table import RULES

_NOWHERE = "https://site.invalid/"  # RFC 2606: no site has this address
_FAILS = {STUCK: (STUCK,), MISLED: (STUCK, MISLED), "any": (STUCK, MISLED, BETTER)}
FINE, FOUND, UNUSABLE = 0, 1, 2
_SAID = 10  # files that are left out, where none is left


def main(arguments: Sequence[str] | None = None) -> int:
    """The command. Returns its exit code: 0 for nothing that fails, 1 for findings that do,
    2 where nothing could be checked, or a file not written."""
    asked = _parser().parse_args(arguments)
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, io.TextIOWrapper):  # what a terminal can't show is written in codes
            stream.reconfigure(errors="backslashreplace")
    try:
        return _check(asked)
    except (files.CannotRead, NotAnAddress) as problem:
        print(f"inner-hop: {problem}", file=sys.stderr)
        return UNUSABLE
    except BrokenPipeError:  # who reads has read enough
        sys.stderr.close()
        return FOUND


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser("inner-hop", description="Marks, hops and landings of sites.")
    commands = parser.add_subparsers(dest="command", required=True)
    check = commands.add_parser("check", help="hold a folder or ZIP of pages against the rules")
    check.add_argument("where", nargs="?", metavar="FOLDER-ZIP-OR-ADDRESS",
                       help="a folder, a ZIP archive, a page, or the address of a live site, such "
                       "as https://marrowby.example/")  # fmt: skip
    check.add_argument("--most", type=int, default=500, metavar="PAGES",
                       help="of a live site: how many pages to ask for at most")  # fmt: skip
    check.add_argument("--contact", default="", metavar="ADDRESS",
                       help="of a live site: what its server is told of who asks")  # fmt: skip
    check.add_argument("--let-through", action="append", default=[], metavar="HOST:PORT=IP",
                       help="of a live site: a host of one's own, by its address")  # fmt: skip
    check.add_argument("--base", default=_NOWHERE, metavar="ADDRESS",
                       help="the site's address, to know its own whole links by")  # fmt: skip
    check.add_argument("--language", default="en", help="of pages that don't say theirs")
    check.add_argument("--exact", action="store_true",
                       help="take /x, /x/ and /x.html as three pages")  # fmt: skip
    check.add_argument("--format", choices=list(formats.FORMATS), default="text")
    check.add_argument("--fail-on", choices=list(_FAILS), default=STUCK)
    check.add_argument("--rules", metavar="NAMES", help="only these, by comma; `list` lists them")
    check.add_argument("--except", dest="excepted", type=Path, metavar="FILE",
                       help="what is set aside: a line each, RULE, or RULE FILE, or RULE FILE KEY, "
                       "with tabs between")  # fmt: skip
    check.add_argument("--fix", action="store_true", help="show what the safe fixes would change")
    check.add_argument("--write", action="store_true", help="with --fix: write it into the files")
    check.add_argument("--cache-dir", type=Path, metavar="FOLDER",
                       help="where what was read is kept, so that the next run is quick; else "
                       "the user's cache folder")  # fmt: skip
    check.add_argument("--no-cache", action="store_true", help="read all anew, and keep nothing")
    check.add_argument("--jobs", type=int, default=0, help="processes; otherwise one a core")
    return parser


def _check(asked: argparse.Namespace) -> int:
    if asked.rules == "list":
        for name in report.all_rules(with_notes=True):
            taste = "\t(when named)" if RULES[name].on_asking else ""
            print(f"{name}\t{RULES[name].level}\t{RULES[name].called}{taste}")
        return FINE
    if asked.where is None:
        raise files.CannotRead(
            "Name the folder, ZIP archive, page or address that is to be checked."
        )
    rules = _rules(asked.rules)
    excepted = _excepted(asked.excepted) if asked.excepted else []
    with _tree(asked) as (tree, base):
        return _check_tree(asked, tree, base, rules, excepted)


@contextmanager
def _tree(asked: argparse.Namespace) -> Iterator[tuple[files.Tree, str]]:
    """The pages to check, and the site's address."""
    if not live.is_address(asked.where):
        yield files.find(Path(asked.where)), asked.base
        return
    if asked.fix:
        raise files.CannotRead("A live site is only looked at. Leave --fix out.")
    with tempfile.TemporaryDirectory(prefix="inner-hop-") as folder:
        wanted = live.SiteWanted(asked.where, asked.most, asked.contact, _let_through(asked))
        yield live.fetched(wanted, Path(folder), _progress())


def _let_through(asked: argparse.Namespace) -> dict[str, str]:
    pairs = [one.partition("=") for one in asked.let_through]
    return {host: address for host, _, address in pairs}


def _check_tree(
    asked: argparse.Namespace,
    tree: files.Tree,
    base: str,
    rules: Sequence[str],
    excepted: Sequence[tuple[str, str, str]],
) -> int:
    if not tree.files:
        raise files.CannotRead(f"There is no page in {asked.where}.{_reasons(tree.skipped)}")
    named = frozenset(one.strip() for one in (asked.rules or "").split(","))
    is_loose = not asked.exact and not _has_two_of_one(tree.files)
    led_on = {urls.page_key(old, is_loose): urls.page_key(new, is_loose)
              for old, new in tree.led_on.items()}  # fmt: skip
    options = Options(read_site_address(base), asked.language, is_loose, named, led_on)
    folder = None if asked.no_cache else (asked.cache_dir or usual_folder())
    where = asked.where if live.is_address(asked.where) else Path(asked.where).absolute()
    cache = Cache(folder, f"{where} {options}")
    with workers(len(tree.files), asked.jobs) as pool:
        site = site_of(tree.files, options, pool, _progress(), cache)
        if not site.files:
            why = _reasons([*tree.skipped, *site.skipped])
            raise files.CannotRead(f"No page in {asked.where} can be read.{why}")
        found = report.of_site(site, rules, excepted, pool)
    cache.save([one.name for one in tree.files])
    found = report.Report(found.lines, found.pages, [*tree.skipped, *found.skipped])
    fails = _FAILS[asked.fail_on]
    if asked.fix:
        left, unwritten = _fix(site, found, options, asked.write)
        if unwritten:
            return UNUSABLE
        return FOUND if any(one.rule.level in fails for one in left) else FINE
    if asked.format == "text":
        sys.stdout.write(formats.text(found, sys.stdout.isatty()))
    else:
        sys.stdout.write(formats.FORMATS[asked.format](found))
    return FOUND if any(one.rule.level in fails for one in found.lines) else FINE


def _has_two_of_one(there: Sequence[files.File]) -> bool:
    """Whether files would be one page if `/x`, `/x/` and `/x.html` were: then they aren't."""
    keys = [urls.page_key(one.address) for one in there]
    return len(set(keys)) < len(keys)


def _rules(asked: str | None) -> list[str]:
    if not asked:
        return report.all_rules()
    names = [one.strip() for one in asked.split(",") if one.strip()]
    known = report.all_rules(with_notes=True)
    chosen = [name for name in known if name in names or RULES[name].level in names]
    unknown = set(names) - set(known) - set(LEVELS)
    if unknown:
        raise files.CannotRead(f"There is no rule {', '.join(sorted(unknown))}. --rules list "
                               "names them.")  # fmt: skip
    return chosen


def _excepted(where: Path) -> list[tuple[str, str, str]]:
    try:
        lines = where.read_text(encoding="utf-8").splitlines()
    except (OSError, UnicodeDecodeError) as problem:
        raise files.CannotRead(f"{where} can't be read: {problem}") from None
    found = []
    for line in lines:
        if line.strip() and not line.startswith("#"):
            rule, *rest = line.rstrip("\n").split("\t")
            name, key = [*rest, "", ""][:2]
            found.append((rule.strip(), name.strip(), key))
    return found


def _progress() -> Progress:
    """A counter on a terminal, and nothing elsewhere."""
    if not sys.stderr.isatty():
        return lambda done, total: None

    def say(done: int, total: int) -> None:
        end = "\r" if done < total else "\r\x1b[K"  # ECMA-48, EL
        sys.stderr.write(f"{done} of {total} pages read{end}")
        sys.stderr.flush()

    return say


def _reasons(skipped: Sequence[tuple[str, str]]) -> str:
    """The first few files that are left out, with why."""
    said = "".join(f"\n  {name}: {why}" for name, why in skipped[:_SAID])
    more = len(skipped) - _SAID
    return f"{said}\n  and {more} more" if more > 0 else said


def _fix(
    site: FileSite, told: report.Report, options: Options, is_written: bool
) -> tuple[list[report.Line], int]:
    """Show what the safe fixes change, and write it if asked; returns what is left, all that
    was found where nothing is written, and how many files could not be written."""
    if is_written and any(one.path is None for one in site.files):
        raise files.CannotRead("Files in an archive are not written. Unpack it first.")
    mended: list[report.Line] = []
    unwritten = 0
    for one in fixing.fixes(site, told, options):
        sys.stdout.write(one.difference)
        try:
            if is_written:
                one.write()
        except OSError as problem:
            why = problem.strerror or problem
            print(f"inner-hop: {one.file.name} stays as it was: {why}", file=sys.stderr)
            unwritten += 1
        else:
            mended += one.lines
    verb = "mended" if is_written else "would be mended; add --write to do it"
    print(f"{len(mended)} of {len(told.lines)} {verb}", file=sys.stderr)
    return [one for one in told.lines if not is_written or one not in mended], unwritten
