"""Who acts in what is being done now: set where a request comes in, read where an act is written down."""

from contextvars import ContextVar

_name: ContextVar[str] = ContextVar("acting", default="")


def acting() -> str:
    """The name of the person who is signed in; "" without accounts, and for what the program does by itself."""
    return _name.get()


def act_as(name: str) -> None:
    """From here on, in this request, a person of this name acts."""
    _name.set(name)
