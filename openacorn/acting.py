"""Who acts in what is being done now: set where a request comes in, read where an act is written down."""

from contextvars import ContextVar
from dataclasses import dataclass

_name: ContextVar[str] = ContextVar("acting", default="")


@dataclass(slots=True)
class Act:
    """What somebody does by one request. who: (account, name, name of the token); subject: the numbers in the address (path).

    written: it is in the activity log, together with what it changed.
    """

    who: tuple[int, str, str]
    what: str
    subject: str
    path: str
    written: bool = False


_act: ContextVar[Act | None] = ContextVar("act", default=None)


def acting() -> str:
    """The name of the person who is signed in; "" without accounts, and for what the program does by itself."""
    return _name.get()


def act_as(name: str) -> None:
    """From here on, in this request, a person of this name acts."""
    _name.set(name)


def begin_act(act: Act | None) -> None:
    """From here on, in this request, this is what is done."""
    _act.set(act)


def act_to_write() -> Act | None:
    """What is done now and was not written down yet."""
    act = _act.get()
    return None if act is None or act.written else act
