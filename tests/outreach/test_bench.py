"""The bench of the queue works: it was broken for a while without anybody noticing."""

import pytest

from bench import messages


def test_the_queue_is_timed_and_its_limits_are_counted(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(messages, "QUEUED", 400)
    monkeypatch.setattr(messages, "ROUNDS", 2)
    figures, text = messages.bench_messages()
    assert figures["planned"] == 400
    assert figures["most a mailbox and day"] <= figures["limit"] == messages.A_DAY
    assert "first page" in text
