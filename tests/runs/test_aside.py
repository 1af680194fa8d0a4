"""Threads and groups of tasks: once a task has ended nothing of it goes on."""

import asyncio
import threading
import time

import pytest

from openacorn.runs.aside import aside, together


def test_a_cancelled_task_ends_only_when_its_thread_has() -> None:
    began, written = threading.Event(), []

    def slow_write() -> None:
        began.set()
        time.sleep(0.3)
        written.append("row")

    async def scene() -> list[str]:
        task = asyncio.create_task(aside(slow_write))
        assert await asyncio.to_thread(began.wait, 10)
        task.cancel()
        await asyncio.sleep(0.05)
        task.cancel()  # somebody in a hurry
        with pytest.raises(asyncio.CancelledError):
            await task
        return list(written)

    assert asyncio.run(scene()) == ["row"]


def test_what_a_thread_returns_and_raises_comes_through() -> None:
    async def scene() -> None:
        assert await aside(divmod, 7, 2) == (3, 1)
        with pytest.raises(ZeroDivisionError):
            await aside(divmod, 7, 0)

    asyncio.run(scene())


def test_the_first_error_ends_the_others_and_is_raised_itself() -> None:
    ended = []

    async def other() -> None:
        try:
            await asyncio.sleep(60)
        finally:
            ended.append("other")

    async def failing() -> None:
        await asyncio.sleep(0)
        raise KeyError("elements")

    async def scene() -> list[str]:
        with pytest.raises(KeyError, match="elements"):
            await together(other(), together(other(), failing()))
        return list(ended)

    assert asyncio.run(scene()) == ["other", "other"]
