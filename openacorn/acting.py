"""Who acts in what is being done now: set where a request comes in, read where an act is written down."""

from contextvars import ContextVar
from dataclasses import dataclass

_name: ContextVar[str] = ContextVar("acting", default="")
_account: ContextVar[int] = ContextVar("account", default=0)
_reader: ContextVar[int] = ContextVar("reader", default=0)


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
    """The name of the person who is signed in; "" without accounts, and for what the program does on its own."""
    return _name.get()


def acting_account() -> int:
    """The account of the person who is signed in; 0 without accounts, and for what the program does on its own."""
    return _account.get()


def reading_as() -> int:
    """The account that sees, of what is not for everybody, only what is shared with it; 0: everything is seen."""
    return _reader.get()


def act_as(name: str, account: int = 0, *, sees_all: bool = True) -> None:
    """From here on, in this request, a person of this name acts. sees_all: also lists of others that are not for everybody."""
    _name.set(name)
    _account.set(account)
    _reader.set(0 if sees_all else account)


def begin_act(act: Act | None) -> None:
    """From here on, in this request, this is what is done."""
    _act.set(act)


def act_to_write() -> Act | None:
    """What is done now and was not written down yet."""
    act = _act.get()
    return None if act is None or act.written else act
