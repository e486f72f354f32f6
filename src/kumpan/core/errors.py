"""What can go wrong in the rules, with stable codes. The API maps these to problem details in one place."""

from dataclasses import dataclass


@dataclass(frozen=True)
class FieldProblem:
    """One thing wrong with one input.

    field: dotted path as the client sent it (``readings.ph``); code: stable, for programs;
    message: plain words for the person who typed it.
    """

    field: str
    code: str
    message: str


class KumpanError(Exception):
    """A refusal the person can understand and act on.

    >>> KumpanError("gone", "That test was deleted.").code
    'gone'
    """

    def __init__(self, code: str, message: str, fields: tuple[FieldProblem, ...] = ()) -> None:
        super().__init__(message)
        self.code = code
        self.message = message
        self.fields = fields


class InvalidInput(KumpanError):
    """One or more fields cannot be used as typed."""

    def __init__(self, *fields: FieldProblem) -> None:
        super().__init__("invalid_input", fields[0].message, fields)


class NotFound(KumpanError):
    """No such thing in this account (or it belongs to another one: the answer is the same)."""

    def __init__(self, what: str) -> None:
        super().__init__("not_found", f"There is no such {what}.")


class Conflict(KumpanError):
    """Someone else changed it first, or it was already done."""


def check_revision(stored: int, sent: int, what: str) -> None:
    """Raise Conflict if someone changed it in between."""
    if stored != sent:
        raise Conflict(
            "changed_meanwhile",
            f"This {what} was changed elsewhere meanwhile. What you typed is still here: look at the newer"
            " version, then save again.",
        )
