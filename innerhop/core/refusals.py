"""What is refused: one kind of exception for everything that can't be done as it was
asked, with a sentence for the person who asked. What isn't one is a fault."""

from __future__ import annotations

UNPROCESSABLE, CONFLICT = 422, 409  # RFC 9110, 15.5.21 and 15.5.10


class Refusal(Exception):
    """Why something is not done.

    message: one or two plain sentences that say what is so and what to do. status:
    the HTTP status that an answer with it has.
    """

    status = UNPROCESSABLE

    def __init__(self, message: str, status: int | None = None) -> None:
        super().__init__(message)
        self.message = message
        if status is not None:
            self.status = status
