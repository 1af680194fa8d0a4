"""Files, pasted texts and address lists: rows that the user brings along. They are read where they lie, never asked for."""

from typing import NoReturn

from openacorn.core.gather.planning import Query
from openacorn.gather.sources._source import Endpoint, Reading, Request, Source, SourceFailure, SourceReply


def _no_question() -> NoReturn:
    raise SourceFailure("a file is read, not asked", "bring the file in again")


def ask(_query: Query, _endpoint: Endpoint) -> Request:
    """There is nothing to ask."""
    _no_question()


def read(_query: Query, _endpoint: Endpoint, _reply: SourceReply) -> Reading:
    """There is no reply."""
    _no_question()


SOURCE = Source(
    id="file",
    title="File",
    cap=1_000_000_000,
    page_size=1,
    ask=ask,
    read=read,
    by="once",
    independent=False,
    hint="a list of your own",
)
