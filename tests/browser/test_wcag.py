"""WCAG 2.2 (https://www.w3.org/TR/WCAG22/), criterion by criterion, where axe-core does not
look: in the states of `states`."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import Desk
from tests.browser.states import STATES

SOME = ("pages", "findings", "outline", "an unmarked section", "rename", "move", "words for a hop",
        "a broken hop", "mark many", "copy sheet", "settings", "sites")  # fmt: skip

# "1.4.12 Text Spacing", with the values that it names.
_SPACING = """* { line-height: 1.5 !important; letter-spacing: .12em !important;
  word-spacing: .16em !important } p { margin-bottom: 2em !important }"""
# Words that are cut off: in a box that hides what does not fit, and not by an ellipsis whose
# whole text stands in a title or is read elsewhere.
_CUT = """() => [...document.querySelectorAll('button, p, label, h1, h2, h3, a, li')]
  .filter((one) => one.checkVisibility() && !one.closest('.sr-only, .skips'))
  .filter((one) => getComputedStyle(one).overflow === 'hidden')
  .filter((one) => !one.classList.contains('truncate'))
  .filter((one) => one.scrollHeight > one.clientHeight + 1 || one.scrollWidth > one.clientWidth + 1)
  .map((one) => one.textContent.trim().slice(0, 40))"""


@pytest.mark.harmful
@pytest.mark.parametrize("width", [1280, 320])
def test_1_4_12_spaced_text_is_not_cut(desk: Desk, width: int) -> None:
    """At 320 CSS px too (1.4.10 Reflow)."""
    found = {}
    for name in SOME if width > 320 else ("pages", "findings", "copy sheet", "settings", "sites"):
        STATES[name](desk)
        desk.tab.set_viewport_size({"width": width, "height": 800})
        desk.tab.evaluate(
            "(css) => { const sheet = new CSSStyleSheet(); sheet.replaceSync(css);"
            " document.adoptedStyleSheets = [sheet] }",
            _SPACING,
        )
        if cut := desk.tab.evaluate(_CUT):
            found[name] = cut
        assert desk.tab.evaluate("document.documentElement.scrollWidth - window.innerWidth") <= 0
    assert found == {}


# What has the focus: whether a ring is drawn for it, and whether it can be seen at all.
_FOCUS = """() => {
  const e = document.activeElement;
  const name = (e.getAttribute('aria-label') || e.textContent || e.tagName).trim().slice(0, 40);
  if (e === document.body) return null;
  // A ring of its own around a box or in a drawing, where the element is but a part of it.
  const style = getComputedStyle(e.closest('.idbox') ?? e);
  const drawn = e.closest('svg') !== null;
  const { left, top, width, height } = e.getBoundingClientRect();
  const [x, y] = [left + Math.min(width, innerWidth) / 2, top + Math.min(height / 2, 20)];
  const over = document.elementFromPoint(x, y);
  const lets = drawn || e.getAttribute('role') === 'application'; // what is behind shows
  const label = over?.closest('label');
  const meets = over && (e.contains(over) || over.contains(e) || label?.contains(e));
  const ring = drawn || (style.outlineStyle !== 'none' && parseFloat(style.outlineWidth) >= 2);
  return { name, ring, sees: Boolean(lets || meets) };
}"""


@pytest.mark.harmful
@pytest.mark.parametrize("name", SOME)
def test_2_4_7_and_2_4_11_the_focus_is_seen_and_not_covered(desk: Desk, name: str) -> None:
    STATES[name](desk)
    bad = []
    for _ in range(70):
        desk.tab.keyboard.press("Tab")
        found = desk.tab.evaluate(_FOCUS)
        if found and not (found["ring"] and found["sees"]):
            bad.append(found)
    assert bad == []


def luminance(colour: str) -> float:
    """https://www.w3.org/TR/WCAG22/#dfn-relative-luminance"""
    parts = [int(colour[at : at + 2], 16) / 255 for at in (1, 3, 5)]
    red, green, blue = (
        one / 12.92 if one <= 0.04045 else ((one + 0.055) / 1.055) ** 2.4 for one in parts
    )
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue


def contrast(one: str, other: str) -> float:
    """https://www.w3.org/TR/WCAG22/#dfn-contrast-ratio"""
    light, dark = sorted((luminance(one), luminance(other)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


def _themes() -> list[dict[str, str]]:
    css = (Path(__file__).parents[2] / "innerhop/screens/app.css").read_text()
    found = re.findall(r":root \{\s*color-scheme[^}]*\}", css)
    return [dict(re.findall(r"--([a-z-]+): (#[0-9a-f]{6})", one)) for one in found]


@pytest.mark.parametrize("theme", _themes(), ids=["light", "dark"])
def test_1_4_11_and_1_4_3_by_the_formula(theme: dict[str, str]) -> None:
    """Lines and dots that tell something 3 : 1 on what they stand on, words 4.5 : 1."""
    grounds = [theme[name] for name in ("card", "tint-a", "tint-b", "ground")]
    for ground in grounds:
        for name in ("here", "there", "menu", "back", "broken", "good", "soft", "ink"):
            assert contrast(theme[name], ground) >= 3, (name, ground)
        for name in ("ink", "soft", "warn"):
            assert contrast(theme[name], ground) >= 4.5, (name, ground)
        assert contrast(theme["ink"], ground) >= 3  # the ring around what has the focus
    assert contrast(theme["menu-fill"], theme["bar"]) >= 3  # and on the bar


def test_2_1_4_single_keys_can_be_turned_off(desk: Desk) -> None:
    tab = desk.tab
    desk.open("/moorings/")
    tab.keyboard.press("?")
    tab.get_by_label("Let keys work alone").uncheck()
    tab.keyboard.press("Escape")
    for key in "nm.t123/":
        tab.keyboard.press(key)
    expect(tab.get_by_role("heading", name="Outline")).to_be_visible()
    expect(tab.get_by_role("button", name="Tags")).to_have_attribute("aria-pressed", "true")


def test_3_3_1_and_4_1_3_what_is_wrong_is_said_at_the_field_and_aloud(desk: Desk) -> None:
    tab = desk.tab
    STATES["an ID that is none"](desk)
    field = tab.get_by_label("ID for this section")
    expect(field).to_have_attribute("aria-invalid", "true")
    expect(field).to_have_accessible_description(re.compile("space"))
    expect(tab.locator("#id-message")).to_have_attribute("aria-live", "polite")
    STATES["finder"](desk)
    expect(tab.get_by_role("status").filter(has_text="found.").first).to_be_attached()
    tab.get_by_label("Find a page or mark").press("Tab")
    expect(tab.get_by_role("listbox", name="Pages and marks found")).to_be_hidden()


def test_2_5_7_what_can_be_dragged_can_be_done_without(desk: Desk) -> None:
    """Markers and starts of hops are dragged; both have buttons on the desk."""
    STATES["move"](desk)
    expect(desk.tab.get_by_label("New place").locator("visible=true")).to_be_visible()
    STATES["another end"](desk)
    expect(desk.tab.get_by_label("Where the hop ends").locator("visible=true")).to_be_visible()
