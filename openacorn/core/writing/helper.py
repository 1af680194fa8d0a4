"""A writing helper: any server that speaks the common chat-completions JSON, what it is asked, and how its answer is read."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

import orjson

from openacorn.core.languages.catalogue import LANGUAGES
from openacorn.errors import InvalidInput

Tone = Literal["friendlier", "more formal", "shorter", "plainer"]

TONES: dict[Tone, str] = {
    "friendlier": "Make it warmer and more personal.",
    "more formal": "Make it more formal and polite.",
    "shorter": "Make it a third shorter. Leave out what matters least.",
    "plainer": "Use short sentences and everyday words.",
}
"""Tone → what is asked for."""

RULES = (
    "You reword messages from a small agency to the owner of a local business.\n"
    "Say nothing that is not in the message or in the facts. Keep every name, number, date and link as it is. "
    "Add no claim, no promise, no praise, no guess and no joke.\n"
    "Use the words of the message and of the facts wherever they fit.\n"
    "Answer with the reworded message alone: no remark before or after it, no quotation marks, no formatting."
)
TEMPERATURE = 0.4
MOST_WORDS = 1500
"""Tokens an answer may have: several times the longest message."""

_FENCE = re.compile(r"^```\w*\n(.*?)\n?```$", re.DOTALL)
_THOUGHT = re.compile(r"<think>.*?</think>", re.DOTALL)
_SUBJECT = re.compile(r"^\W*(?:subject|betreff|objet|asunto|oggetto|assunto|onderwerp)\W*:\s*(.*)\n+", re.IGNORECASE)


class HelperError(InvalidInput):
    """The writing helper cannot be used, or gave no text; the message says why."""

    where = "writing"
    remedy = "try again, or look at the writing helper under Settings"


@dataclass(frozen=True, slots=True)
class HelperCall:
    """One request to a helper, a POST."""

    url: str
    headers: dict[str, str]
    body: bytes


@dataclass(frozen=True, slots=True)
class Wish:
    """What is to be worded again, and how. facts: what may be said besides; language: ISO 639-1, one of LANGUAGES."""

    text: str
    tone: Tone
    language: str
    subject: str = ""
    facts: Sequence[str] = ()


def helper_address(address: str) -> str:
    """Where a server takes requests: an address that ends before the path of chat completions gets it."""
    address = address.rstrip("/")
    return address if address.endswith("/completions") else f"{address}/chat/completions"


def prompt_of(wish: Wish) -> list[dict[str, str]]:
    """The prompt for the helper: all that leaves this machine, apart from the key."""
    message = f"Subject: {wish.subject}\n\n{wish.text}" if wish.subject else wish.text
    keep = "\nBegin with the subject on a line of its own, as in the message." if wish.subject else ""
    facts = "".join(f"\n- {fact}" for fact in wish.facts)
    asked = f"{TONES[wish.tone]} Write it in {LANGUAGES[wish.language]}.{keep}"
    return [
        {"role": "system", "content": RULES},
        {"role": "user", "content": f"{asked}\n\nFacts that may be said:{facts}\n\nMessage:\n{message}"},
    ]


def words_asked(wish: Wish) -> str:
    """All that is sent to a helper."""
    return "\n\n".join(part["content"] for part in prompt_of(wish))


def request_of(address: str, model: str, key: str, wish: Wish) -> HelperCall:
    """The request to a server. key: "" for a server that asks for none."""
    headers = {"Content-Type": "application/json", "Accept": "application/json"}
    if key:
        headers["Authorization"] = f"Bearer {key}"
    body = {
        "model": model,
        "messages": prompt_of(wish),
        "temperature": TEMPERATURE,
        "max_tokens": MOST_WORDS,
        "stream": False,
    }
    return HelperCall(helper_address(address), headers, orjson.dumps(body))


def read_answer(status: int, body: bytes) -> str:
    """The text that a server answered with. Raises HelperError with what it said instead."""
    try:
        answer = orjson.loads(body)
    except orjson.JSONDecodeError:
        raise HelperError(f"the writing helper answered {status}, and not in JSON: is its address right?") from None
    if status >= 400 or not isinstance(answer, dict) or answer.get("error"):
        raise HelperError(f"the writing helper answered {status}: {_complaint(answer) or 'no reason given'}")
    match answer.get("choices"):
        case [{"message": {"content": content}}, *_]:
            text = _text(content)
        case [{"text": str() as content}, *_]:
            text = content
        case _:
            raise HelperError("the writing helper's answer has no text where chat completions have it")
    text = _THOUGHT.sub("", text).strip()
    if not text:
        raise HelperError("the writing helper's answer is empty")
    if answer["choices"][0].get("finish_reason") == "length":
        raise HelperError("the writing helper stopped in the middle of its answer")
    return text


def _text(content: Any) -> str:
    """Content as a text, or in parts."""
    if isinstance(content, list):
        return "".join(str(part.get("text", "")) for part in content if isinstance(part, dict))
    return content if isinstance(content, str) else ""


def _complaint(answer: Any) -> str:
    error = answer.get("error", answer) if isinstance(answer, dict) else answer
    if isinstance(error, dict):
        error = error.get("message") or error.get("detail") or ""
    return " ".join(str(error).split())[:300]


def parts_of(answer: str, subject: str) -> tuple[str, str]:
    """(subject, text) of an answer; the subject is as it was where the answer has none."""
    if fenced := _FENCE.match(answer):
        answer = fenced[1].strip()
    if subject and (match := _SUBJECT.match(answer)):
        return " ".join(match[1].split()).strip('*"“” '), answer[match.end() :].strip()
    return subject, answer.strip()
