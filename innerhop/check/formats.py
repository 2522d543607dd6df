"""A report as people read it, and as programs do."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from typing import Any
from urllib.parse import quote
from xml.etree import ElementTree as Tree

from innerhop.check.report import Line, Report
from innerhop.core.counting import counted
from innerhop.core.findings.found import BETTER, LEVELS, MISLED, NOTE, STUCK, Rule

IN_WORDS = {
    STUCK: "readers get stuck", MISLED: "readers are misled", BETTER: "could be better",
    NOTE: "for information",
}  # fmt: skip
_COLOURS = {STUCK: "31", MISLED: "33", BETTER: "36", NOTE: "2"}  # ECMA-48, SGR
SARIF = "2.1.0"
_SCHEMA = (
    "https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json"
)
_SARIF_LEVELS = {STUCK: "error", MISLED: "warning", BETTER: "note", NOTE: "none"}


def counts(report: Report) -> dict[str, int]:
    """How many findings there are of each level."""
    return {level: sum(one.rule.level == level for one in report.lines) for level in LEVELS}


def text(report: Report, is_coloured: bool = False) -> str:
    """One line a finding, `file:line:column: `, as editors jump to; and the sum."""

    def in_colour(level: str, words: str) -> str:
        return f"\x1b[{_COLOURS[level]}m{words}\x1b[0m" if is_coloured else words

    lines = [
        f"{one.file}:{one.place.line}:{one.place.column}: "
        f"{in_colour(one.rule.level, one.rule.name)}: {one.title} (“{one.found.words}”). {one.why}"
        for one in report.lines
    ]
    lines += [f"{name}: left out, {why}" for name, why in report.skipped]
    found = [
        in_colour(level, f"{count} × {IN_WORDS[level]}")
        for level, count in counts(report).items() if count
    ]  # fmt: skip
    pages = counted(report.pages, "page")
    return "\n".join([*lines, f"{pages}: {', '.join(found) or 'nothing found'}"]) + "\n"


FIELDS = ("file", "line", "column", "rule", "level", "title", "why", "words", "key", "fix",
          "source", "source_url")  # fmt: skip


def row(line: Line) -> dict[str, Any]:
    """A finding as JSON has it."""
    return {
        "file": line.file, "line": line.place.line, "column": line.place.column,
        "rule": line.rule.name, "level": line.rule.level, "title": line.title, "why": line.why,
        "words": line.found.words, "key": line.found.key, "fix": line.fix,
        "source": line.rule.source.name, "source_url": line.rule.source.url,
    }  # fmt: skip


def as_json(report: Report) -> str:
    """The findings as one JSON object."""
    told = {
        "pages": report.pages, "counts": counts(report),
        "skipped": [{"file": name, "why": why} for name, why in report.skipped],
        "findings": [row(one) for one in report.lines],
    }  # fmt: skip
    return json.dumps(told, ensure_ascii=False, indent=1) + "\n"


def sarif(report: Report) -> str:
    """Static Analysis Results Interchange Format 2.1.0 (OASIS)."""
    rules = {one.rule.name: one.rule for one in report.lines}
    order = {name: at for at, name in enumerate(rules)}
    driver = {"name": "Inner Hop", "rules": [_sarif_rule(rule) for rule in rules.values()]}
    results = [
        {
            "ruleId": one.rule.name,
            "ruleIndex": order[one.rule.name],
            "level": _SARIF_LEVELS[one.rule.level],
            "message": {"text": f"{one.title} (“{one.found.words}”). {one.why}"},
            "locations": [
                {
                    "physicalLocation": {
                        "artifactLocation": {"uri": _uri(one.file)},
                        "region": {"startLine": one.place.line, "startColumn": one.place.column},
                    }
                }
            ],
            "partialFingerprints": {"place/v1": f"{one.rule.name} {one.file} {one.found.key}"},
        }
        for one in report.lines
    ]
    run = {"tool": {"driver": driver}, "columnKind": "unicodeCodePoints", "results": results}
    return json.dumps({"$schema": _SCHEMA, "version": SARIF, "runs": [run]},
                      ensure_ascii=False, indent=1) + "\n"  # fmt: skip


def _sarif_rule(rule: Rule) -> dict[str, Any]:
    told: dict[str, Any] = {
        "id": rule.name,
        "shortDescription": {"text": rule.called},
        "help": {"text": f"{rule.avoid} Source: {rule.source.name}."},
        "defaultConfiguration": {"level": _SARIF_LEVELS[rule.level]},
    }
    return told | ({"helpUri": rule.source.url} if rule.source.url else {})


def _uri(file: str) -> str:
    """RFC 3986: what may not stand in a path is written in codes."""
    return quote(file, safe="/-._~!$&'()*+,;=@")


def junit(report: Report) -> str:
    """JUnit's XML as CI systems read it: a test case for each finding, and one for each page
    without any (common practice, no source)."""
    suite = Tree.Element("testsuite", name="inner-hop check", tests=str(max(len(report.lines), 1)),
                         failures=str(len(report.lines)), errors="0", skipped="0")  # fmt: skip
    for one in report.lines:
        place = f"{one.file}:{one.place.line}:{one.place.column}"
        case = Tree.SubElement(suite, "testcase", classname=one.rule.name,
                               name=f"{place} {one.found.words}", time="0")  # fmt: skip
        failure = Tree.SubElement(case, "failure", message=_xml(one.title), type=one.rule.level)
        failure.text = _xml(f"{place}\n{one.why}")
        case.set("name", _xml(case.get("name") or ""))
    if not report.lines:
        Tree.SubElement(suite, "testcase", classname="inner-hop", time="0",
                        name=f"{report.pages} pages")  # fmt: skip
    root = Tree.Element("testsuites")
    root.append(suite)
    Tree.indent(root)
    return Tree.tostring(root, "unicode", xml_declaration=True) + "\n"


def _xml(words: str) -> str:
    """XML 1.0, “Char”: no control characters."""
    return "".join(one for one in words if one in "\t\n\r" or (one >= " " and one not in "￾￿"))


FORMATS: Mapping[str, Callable[[Report], str]] = {
    "text": text, "json": as_json, "junit": junit, "sarif": sarif,
}  # fmt: skip
