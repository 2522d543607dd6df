"""What the acts that mend a place are asked with, each a type of its own: the screens send it
as the act's form reads it, the command line plans it as it is."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any, ClassVar


@dataclass(frozen=True)
class Request:
    """What an act is asked with. ACT: the act, by its name in the table of acts."""

    ACT: ClassVar[str]

    def sent(self) -> dict[str, Any]:
        """The same as the act's form reads it."""
        return asdict(self)


@dataclass(frozen=True)
class OfElement(Request):
    """What is asked of one element, by number."""

    number: int


@dataclass(frozen=True)
class LeadThere(OfElement):
    """A link is to lead to what was likely meant. page: as the site knows it; id: "" for its
    top."""

    ACT = "mend"
    page: int
    id: str

    def sent(self) -> dict[str, Any]:
        return {"number": self.number, "end": {"page": self.page, "id": self.id}}


@dataclass(frozen=True)
class OpenHere(OfElement):
    """A link is to open in the tab that it stands in."""

    ACT = "reopen"

    def sent(self) -> dict[str, Any]:
        return {"number": self.number, "new_tab": False}


@dataclass(frozen=True)
class GiveId(OfElement):
    """An element is to have an ID."""

    ACT = "mark"
    id: str

    def sent(self) -> dict[str, Any]:
        return {"marks": [asdict(self)]}


@dataclass(frozen=True)
class GiveOtherId(OfElement):
    """A mark is to have another ID, and its hops go along."""

    ACT = "rename"
    id: str


@dataclass(frozen=True)
class GiveOtherIdAlone(GiveOtherId):
    """The same, and no hop goes along."""

    def sent(self) -> dict[str, Any]:
        return {**asdict(self), "follow": []}


@dataclass(frozen=True)
class NameBeside(OfElement):
    """A marker with a readable ID is to stand before an element, for its hops."""

    ACT = "name-beside"
    id: str


@dataclass(frozen=True)
class FromClass(OfElement):
    """A word of an element's class is to be its ID."""

    ACT = "from-class"
    word: str


@dataclass(frozen=True)
class MoveOnto(OfElement):
    """A mark is to stand before another element."""

    ACT = "move"
    to: int

    def sent(self) -> dict[str, Any]:
        return {**asdict(self), "side": "before"}


@dataclass(frozen=True)
class MoveUp(OfElement):
    """A mark is to stand at the heading that it is right below."""

    ACT = "move-up"


@dataclass(frozen=True)
class MoveDown(OfElement):
    """A mark is to stand at what readers see first there."""

    ACT = "move-down"


@dataclass(frozen=True)
class MakeHeading(OfElement):
    """A line is to be a heading of that level, and look as it does."""

    ACT = "heading"
    level: int

    def sent(self) -> dict[str, Any]:
        return {**asdict(self), "keeps_look": True}


@dataclass(frozen=True)
class UpdateList(OfElement):
    """A contents list is to be brought up to date."""

    ACT = "update-lists"


@dataclass(frozen=True)
class TakeOutSpacers(Request):
    """The empty paragraphs above an element are to go."""

    ACT = "take-out-spacers"
    below: int


@dataclass(frozen=True)
class PutWaysBack(Request):
    """A page is to have ways back. where: as ways_back has it; to_list: to its contents list."""

    ACT = "ways-back"
    where: str
    to_list: bool


@dataclass(frozen=True)
class CloseGaps(Request):
    """A page's headings are to skip no level."""

    ACT = "close-gaps"


@dataclass(frozen=True)
class SayLanguage(Request):
    """A page is to say its site's language."""

    ACT = "say-language"


@dataclass(frozen=True)
class UsualList(Request):
    """A page is to have a contents list of its main sections."""

    ACT = "usual-list"


@dataclass(frozen=True)
class LeaveRoom(Request):
    """A page is to leave room for what stays at the top of the view."""

    ACT = "room"
