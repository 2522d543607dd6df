"""docs/asvs.md names tests that are there."""

from __future__ import annotations

import re
from pathlib import Path

HERE = Path(__file__).parent


def test_each_test_that_it_names_is_there() -> None:
    text = (HERE.parent / "docs" / "asvs.md").read_text(encoding="utf-8")
    named = re.findall(r"`((?:\w+/)*test_\w+\.py)(?:::(\w+))?`", text)
    assert len(named) > 40
    missing = [f"{file}::{name}" for file, name in named
               if not (HERE / file).is_file()
               or f"def {name or 'test_'}" not in (HERE / file).read_text("utf-8")]  # fmt: skip
    assert missing == []
