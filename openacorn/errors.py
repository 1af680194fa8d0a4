"""Errors that a person can do something about: what is wrong, in which field, what to do, and the HTTP status that says so.

A new error is a subclass beside the code that raises it; the API answers all of them alike.
"""


class AcornError(Exception):
    """The root. `str(error)` says what is wrong; `where` names the field, `remedy` what to do about it."""

    status = 422
    where = "request"
    remedy = "correct that and send it again"


class InvalidInput(AcornError, ValueError):
    """Something that was entered cannot be used as it is."""


class NotFound(AcornError):
    """There is nothing of that number or name."""

    status = 404
    where = "address"
    remedy = "go back to the list"


class Conflict(AcornError):
    """What is there already stands against it."""

    status = 409


class NameTaken(Conflict):
    """Another one has that name."""

    where = "name"
    remedy = "choose another name"


class Busy(AcornError):
    """Too much is asked for at once."""

    status = 429
    remedy = "try again in a minute"


class NotPossibleHere(AcornError):
    """This machine lacks what it takes."""

    status = 501


class Upstream(AcornError):
    """Another service did not answer as it should."""

    status = 502
