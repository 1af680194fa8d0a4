"""Blocking work of a run in threads, and groups of tasks, so that once a task has ended nothing of it goes on."""

import asyncio
from collections.abc import Callable, Coroutine
from functools import partial
from typing import Any, TypeVar

T = TypeVar("T")


async def aside(work: Callable[..., T], *args: object) -> T:
    """Do blocking work in a thread.

    A thread cannot be cancelled: a cancellation is passed on only once the thread is done, so that it never writes for a
    run that has ended.
    """
    running = asyncio.get_running_loop().run_in_executor(None, partial(work, *args))
    cancelled = False
    while not running.done():
        try:
            await asyncio.wait([running])
        except asyncio.CancelledError:
            cancelled = True
    if cancelled:
        running.exception()  # looked at, so that nobody complains of it later; the cancellation is what is passed on
        raise asyncio.CancelledError
    return running.result()


async def together(*work: Coroutine[Any, Any, object]) -> None:
    """Do all of it side by side. The first that raises ends the others, which are waited for, and is raised itself."""
    try:
        async with asyncio.TaskGroup() as group:
            for one in work:
                group.create_task(one)
    except BaseExceptionGroup as failed:
        first: BaseException = failed
        while isinstance(first, BaseExceptionGroup):
            first = first.exceptions[0]
        raise first from None
