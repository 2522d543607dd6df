"""Long work goes step by step, each telling how far it is, and comes to something in the end. Here
is the one way in which steps are gone through: in a job, in view of an editor, or at once."""

from __future__ import annotations

from collections.abc import Callable, Generator, Iterator
from typing import Generic, TypeVar

Step = TypeVar("Step")
Result = TypeVar("Result")


class Followed(Generic[Step, Result]):
    """Steps, to be gone through one by one; then `result` is what they came to. Closed early, as
    when who watches goes away, they leave nothing behind."""

    result: Result

    def __init__(self, steps: Generator[Step, None, Result]) -> None:
        self.steps = steps

    def __iter__(self) -> Iterator[Step]:
        self.result = yield from self.steps


def finished(
    steps: Generator[Step, None, Result], tell: Callable[[Step], object] = lambda _step: None
) -> Result:
    """What steps come to. tell: called with each; where it raises, they are given up."""
    followed = Followed(steps)
    try:
        for step in followed:
            tell(step)
    finally:
        steps.close()
    return followed.result
