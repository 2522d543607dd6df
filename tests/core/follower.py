"""Someone who follows a copy sheet to the letter on an untouched page: it reads a step's
words, finds the part by what it is called, and does what is said, on the tree of another
parser (see `trees`). It knows nothing of numbers, edits or the new text."""

from __future__ import annotations

import re

from innerhop.core.copy_steps.step import Step
from tests.core.trees import Tree, read

# What is called so on a sheet, by the tags that it can be.
TAGS = {
    "block": ("div",),
    "heading": ("h1", "h2", "h3", "h4", "h5", "h6"), "link": ("a",), "button": ("button", "a"),
    "form field": ("label", "input"), "paragraph": ("p",), "line like a heading": ("p", "div"),
    "bold words": ("b", "strong"), "picture": ("img", "svg"), "list entry": ("li",),
    "title of a part that opens": ("summary",), "list": ("ul", "ol"), "term": ("dt",),
}  # fmt: skip
_TITLES = ("h1", "h2", "h3", "h4", "h5", "h6", "summary", "dt")
_NAME = re.compile(r"(?:the )?([a-z ]+?) “(.*?)…?”(?: \((\d+)\w\w of (\d+)\))?$")


class Follower:
    """The page under work."""

    def __init__(self, text: str) -> None:
        self.root = read(text)

    def follow(self, step: Step) -> None:
        """Do what one step says."""
        getattr(self, f"_{step.kind.replace('-', '_')}")(step)

    def _above(self, wanted: Tree) -> tuple[Tree, int]:
        for one in self.root.below():
            for at, child in enumerate(one.children):
                if child is wanted:
                    return one, at
        raise LookupError("no longer on the page")

    def _is_bold_line(self, one: Tree) -> bool:
        inside = [child for child in one.children if child != ""]
        return one.tag == "p" and len(inside) == 1 and not isinstance(inside[0], str) and (
            inside[0].tag in ("b", "strong")
        )  # fmt: skip

    def _stretch(self, step: Step) -> list[Tree]:
        """The elements under the title, or in the part of the frame, that a step names."""
        if step.frame:
            part = next(one for one in self.root.below() if one.tag == step.frame)
            return list(part.below())
        found, title = [], ""
        for one in self.root.below():
            if one.tag in _TITLES or self._is_bold_line(one):
                title = " ".join(one.text.split())
            if title == step.section:
                found.append(one)
        return found

    def _find(self, name: str, step: Step) -> Tree:
        kind, said, nth, of = _NAME.match(name).groups()  # type: ignore[union-attr]
        tags = TAGS[kind]
        fitting = [
            one
            for one in self._stretch(step)
            if one.tag in tags
            and _squeezed(_read_out(one)).startswith(_squeezed(said))
            and (kind != "paragraph" or not self._is_bold_line(one))
            and (kind != "link" or "btn" not in one.attrs.get("class", ""))
        ]
        assert len(fitting) == int(of or 1), (name, [one.text for one in fitting])
        return fitting[int(nth or 1) - 1]

    def _heading(self, step: Step) -> None:
        if step.what.startswith("words "):
            self._wrapped(step).tag = step.enter
            return
        line = self._find(step.what, step)
        line.tag = step.enter
        if "inherit" in step.markup:  # it keeps its look, and its bold words
            return
        if len(line.children) == 1 and isinstance(line.children[0], Tree):
            bold = line.children[0]
            if bold.tag in ("b", "strong"):
                line.children = bold.children

    def _id(self, step: Step) -> None:
        part = self._find(step.what, step)
        assert part.attrs.get("id", "") == step.before
        part.attrs["id"] = step.enter

    def _markup(self, step: Step) -> None:
        name = re.search(r"attribute (\w+)", step.note)
        part = self._find(step.what, step)
        part.attrs[name.group(1) if name else "class"] = step.enter

    def _link(self, step: Step) -> None:
        if step.what.startswith("a new "):
            markup = re.search(r"As markup: (<.*>)", step.note)
            assert markup
            self._put(markup.group(1), step)
            return
        if step.what.startswith("words "):
            link = self._wrapped(step)
        else:
            link = self._find(step.what, step)
            if link.tag == "img":
                around, at = self._above(link)
                around.children[at] = link = Tree("a", {}, [link])
        if link.tag == "button":
            assert "Make this button a link." in step.note
            link.tag = "a"
            link.attrs.pop("type", None)
        link.attrs["href"] = step.enter
        if "new tab" in step.note:
            link.attrs["target"] = "_blank"
        if "same tab" in step.note:
            link.attrs.pop("target")
        if "from rel" in step.note:
            del link.attrs["rel"]
        if rel := re.search(r"Set rel to “(.*?)”", step.note):
            link.attrs["rel"] = rel.group(1)

    def _wrapped(self, step: Step) -> Tree:
        said = step.what.removeprefix("words “").removesuffix("”")
        inside, behind = re.match(r"in (.*?), (after “.*|at its beginning)$", step.at).groups()  # type: ignore[union-attr]
        block = self._find(inside, step)
        lead = behind.removeprefix("after “").removeprefix("…").removesuffix("”")
        lead = "" if behind == "at its beginning" else lead
        for one in block.below():
            for at, child in enumerate(one.children):
                if not isinstance(child, str):
                    continue
                pattern = r"\s*".join(map(re.escape, (lead, said)))
                found = re.search(re.sub(r"(\\ )+", r"\\s+", pattern), child)
                if found:
                    begin = found.end() - len(said)
                    link = Tree("a", {}, [said])
                    pieces = [child[:begin], link, child[found.end() :]]
                    one.children[at : at + 1] = [piece for piece in pieces if piece]
                    return link
        raise LookupError(step.at)

    def _put(self, markup: str, step: Step) -> None:
        made = read(f"<!doctype html><body>{markup}").children[-1]
        assert isinstance(made, Tree)
        side, name = re.search(r"right (before|behind) (.*)$", step.at).groups()  # type: ignore[union-attr]
        around, at = self._above(self._find(name, step))
        at += side == "behind"
        around.children[at:at] = made.children

    def _marker(self, step: Step) -> None:
        self._put(step.enter, step)

    def _style(self, step: Step) -> None:
        head = next(one for one in self.root.below() if one.tag == "head")
        head.children.append(Tree("style", {}, [re.sub("</?style>", "", step.enter)]))

    def _take_out(self, wanted: Tree) -> None:
        around, at = self._above(wanted)
        del around.children[at]

    def _away(self, step: Step) -> None:
        if step.what in ("an empty marker", "a line of style"):
            said = re.sub("</?style>", "", step.before)
            (one,) = [
                one for one in self.root.below()
                if said in (one.attrs.get("id"), one.tag == "style" and one.text)
            ]  # fmt: skip
            self._take_out(one)
            return
        self._take_out(self._find(step.what, step))

    def _no_id(self, step: Step) -> None:
        assert self._find(step.what, step).attrs.pop("id") == step.before

    def _no_link(self, step: Step) -> None:
        part = self._find(step.what, step)
        assert part.attrs["href"] == step.before
        around, at = self._above(part)
        around.children[at : at + 1] = part.children


def _read_out(one: Tree) -> str:
    """What a part says, its pictures too."""
    inside = "".join(
        child if isinstance(child, str) else _read_out(child) for child in one.children
    )
    return inside or one.attrs.get("alt", "")


def _squeezed(said: str) -> str:
    # Where one block ends and the next begins, no space need stand.
    return "".join(said.split())


def plain(tree: Tree) -> str:
    """A tree, less the white space that readers don't see."""
    inside = "".join(child if isinstance(child, str) else plain(child) for child in tree.children)
    attrs = "".join(f" {name}={value!r}" for name, value in sorted(tree.attrs.items()))
    return re.sub(r"\s+", " ", f"<{tree.tag}{attrs}>{inside.strip()}</>").replace("> <", "><")
