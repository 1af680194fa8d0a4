"""The coast's writing helper: rewords a message by a few rules, and now and then says more than it was given, as such servers do."""

import json
import re
import zlib
from typing import Any

from openacorn.sim.http import Asked, Reply, json_reply

KEY = "tarrow-writing-key"
MODEL = "tarrow-plain"
EAGER = 3
"""Of so many messages one gets a claim that nobody handed over."""

CLAIM = "Everybody else on the coast has fixed this long ago."
RULES: dict[str, tuple[tuple[str, str], ...]] = {
    "warmer": (
        (r"^Hello\b", "Hi"), (r"\bI looked at\b", "I had a look at"), (r"\bcannot\b", "can't"), (r"\bdo not\b", "don't"),
        (r"\bdoes not\b", "doesn't"), (r"\bIt has no\b", "There's no"), (r"\bI would\b", "I'd"), (r"\bMay I\b", "Can I"),
        (r"\bKind regards\b", "All the best"),
    ),
    "formal": (
        (r"^(?:Hello|Hi)\b", "Dear"), (r"\bcan't\b", "cannot"), (r"\bdon't\b", "do not"), (r"\bI'd\b", "I would"),
        (r"\bCan I\b", "May I"), (r"\bThanks\b", "Thank you"),
    ),
    "shorter": (),
    "everyday": ((r";\s+(\w)", r". \1"), (r"\bhowever, ", ""), (r"\bin order to\b", "to")),
}  # fmt: skip
"""A word of the wish that says the tone → what is put in the place of what."""


def reword(asked: str) -> str:
    """The message at the end of what was asked, in other words."""
    wish, _, message = asked.partition("\n\nMessage:\n")
    tone = next((name for name in RULES if name in wish), "everyday")
    for pattern, said in RULES[tone]:
        message = re.sub(pattern, said, message, flags=re.MULTILINE)
    paragraphs = message.split("\n\n")
    if tone == "shorter" and len(paragraphs) > 3:
        whole = max(paragraphs[1:-1], key=len)
        paragraphs[paragraphs.index(whole)] = re.sub(r"(?<=[.!?])\s.*", "", whole)
    if zlib.crc32(message.encode()) % EAGER == 0 and len(paragraphs) > 1:
        paragraphs.insert(-1, CLAIM)
    return "\n\n".join(paragraphs)


class WritingServer:
    """Answers `POST /v1/chat/completions`."""

    def handle(self, asked: Asked) -> Reply:
        """Answer one request."""
        if asked.target != "/v1/chat/completions" or asked.method != "POST":
            return json_reply(404, {"error": {"message": "unknown address"}})
        if asked.headers.get("authorization") != f"Bearer {KEY}":
            return json_reply(401, {"error": {"message": "the key is missing or wrong"}})
        try:
            body: dict[str, Any] = json.loads(asked.body)
            said = str(body["messages"][-1]["content"])
        except (ValueError, KeyError, IndexError, TypeError):
            return json_reply(400, {"error": {"message": "the request has no messages"}})
        if body.get("model") != MODEL:
            return json_reply(404, {"error": {"message": f"there is no model {body.get('model')!r}"}})
        answer = {"role": "assistant", "content": reword(said)}
        return json_reply(200, {"choices": [{"index": 0, "message": answer, "finish_reason": "stop"}], "model": MODEL})
