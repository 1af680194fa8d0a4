"""The language of message templates: text with {{ facts }} and {% if fact %} conditions, and nothing else.

A template is parsed by Jinja; every node of it must be one that is named here. There are no loops, attributes, calls (but for
`gap("check")`) or assignments, so a template can neither reach anything nor run on.
"""

import re
from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from jinja2 import Template, TemplateSyntaxError, Undefined, nodes
from jinja2.sandbox import ImmutableSandboxedEnvironment

from openacorn.core.outreach.message_kind import MessageKind
from openacorn.errors import InvalidInput

LONGEST = 5000
"""Characters of a template; the longest shipped one has 700."""

SLOTS: dict[str, str] = {
    "greeting": "Hello with the first name, if it is known",
    "first_name": "first name of the person written to",
    "last_name": "last name of the person written to",
    "business": "name of the business",
    "town": "its town",
    "trade": "its trade, in the singular",
    "trades": "its trade, in the plural",
    "claim": "the finding that speaks most for the service",
    "second_claim": "the next finding that speaks for it",
    "why": "why the finding matters to the business",
    "remedy": "what would be done about it",
    "seen_on": "the day on which the website was looked at",
    "website": "the business's own website",
    "peers": "what peers nearby have that this business lacks",
    "reviews": "number of reviews",
    "rating": "average rating",
    "opening_line": "the opening line of the best angle",
    "page": "address of the owner’s page",
    "offer": "name of the service",
    "agency": "your agency’s name",
    "sender": "name of the person who writes",
    "phone": "your phone number",
}
"""MessageFact → its meaning; all that a template may use."""

ALLOWED = (
    nodes.Template, nodes.Output, nodes.TemplateData, nodes.Name, nodes.If, nodes.CondExpr, nodes.Filter, nodes.Not,
    nodes.And, nodes.Or, nodes.Compare, nodes.Operand, nodes.Const, nodes.Call,
)  # fmt: skip
START, BETWEEN, END = "\ue000", "\ue001", "\ue002"
"""Around a fact in rendered text, with its number: characters for private use, which facts are freed of."""

_MARKED = re.compile(f"{START}(\\d+){BETWEEN}([^{END}]*){END}")
_LINE_ENDS, _EMPTY_LINES = re.compile(r"[ \t]+\n"), re.compile(r"\n{3,}")
_UNWANTED = re.compile(r"[\x00-\x1f\x7f\u2028\u2029\ue000-\uf8ff]+")
_SENTENCE = re.compile(rf"[^.!?…\n]+(?:[.!?…]+(?![\s{END}]|$)[^.!?…\n]*)*[.!?…]*{END}?")


class TemplateError(InvalidInput):
    """A template that cannot be used; the message says what and in which line."""

    where = "text"
    remedy = "change that line; nothing you entered is lost"


class FactUnknown(Exception):
    """A template asks for a fact that is not known of this business."""

    def __init__(self, slot: str) -> None:
        super().__init__(f"not known: {SLOTS.get(slot, slot)}")
        self.slot = slot


@dataclass(frozen=True, slots=True)
class MessageFact:
    """What may be said of a business. value: "" or None if it is not known; because: what allows it to be said."""

    value: str | float | None
    because: str = ""


@dataclass(frozen=True, slots=True)
class MessageTemplate:
    """id: stable key; service: what it sells, "" for any; variant: which of several that are tried against one another;
    language: that it is written in (ISO 639-1)."""

    id: str
    kind: MessageKind
    name: str
    text: str
    subject: str = ""
    service: str = ""
    variant: str = ""
    language: str = "en"


@dataclass(frozen=True, slots=True)
class Sentence:
    """A sentence as rendered, and what allows each fact in it."""

    text: str
    because: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Written:
    """A rendered text and what its sentences rest on. slots: the facts it uses."""

    text: str
    sentences: tuple[Sentence, ...]
    slots: frozenset[str]


class _Unknown(Undefined):
    """False in a condition; an error where it would be printed."""

    def __bool__(self) -> bool:
        return False

    def __str__(self) -> str:
        raise FactUnknown(str(self._undefined_name))

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Unknown)

    def __hash__(self) -> int:
        return hash(self._undefined_name)

    def __lt__(self, _: object) -> bool:  # type: ignore[override]
        return False

    __le__ = __gt__ = __ge__ = __lt__  # type: ignore[assignment]


class _Shown:
    """A fact while a template is rendered: it compares as its value, and prints with its number around it."""

    def __init__(self, number: int, value: str | float) -> None:
        self.number, self.value = number, value

    def __str__(self) -> str:
        shown = self.value if isinstance(self.value, str) else f"{self.value:g}"
        return f"{START}{self.number}{BETWEEN}{_UNWANTED.sub(' ', shown).strip()}{END}"

    def __bool__(self) -> bool:
        return bool(self.value)

    def __eq__(self, other: object) -> bool:
        return bool(self.value == _value(other))

    __hash__ = object.__hash__

    def __lt__(self, other: object) -> bool:
        return _ordered(self.value, other, lambda one, two: one < two)

    def __le__(self, other: object) -> bool:
        return _ordered(self.value, other, lambda one, two: one <= two)

    def __gt__(self, other: object) -> bool:
        return _ordered(self.value, other, lambda one, two: one > two)

    def __ge__(self, other: object) -> bool:
        return _ordered(self.value, other, lambda one, two: one >= two)


def _value(other: object) -> object:
    return other.value if isinstance(other, _Shown) else other


def _ordered(one: str | float, other: object, compare: Callable[[Any, Any], bool]) -> bool:
    """Numbers order; anything else is neither more nor less than something else."""
    two = _value(other)
    return isinstance(one, int | float) and isinstance(two, int | float) and compare(one, two)


FILTERS: dict[str, Callable[[str], str]] = {
    "lower": str.lower,
    "capitalize": lambda text: text[:1].upper() + text[1:],
    "trim": str.strip,
}


def _on_value(change: Callable[[str], str]) -> Callable[[object], object]:
    """A filter that changes what a fact says and keeps what allows it."""

    def apply(value: object) -> object:
        if isinstance(value, _Shown):
            return _Shown(value.number, change(str(value.value)))
        return change(str(value))

    return apply


_ENVIRONMENT = ImmutableSandboxedEnvironment(undefined=_Unknown)
_ENVIRONMENT.globals.clear()
_ENVIRONMENT.tests.clear()
_ENVIRONMENT.filters = {name: _on_value(change) for name, change in FILTERS.items()}


def _names(node: nodes.Node, checks: Collection[str]) -> str:
    """What is wrong with a node, "" if nothing is."""
    if not isinstance(node, ALLOWED):
        return "only {{ facts }} and {% if … %} can be used"
    if isinstance(node, nodes.Name) and node.name not in SLOTS and node.name != "gap":
        return f"there is no fact {node.name!r}"
    if isinstance(node, nodes.Filter) and node.name not in FILTERS:
        return f"there is no filter {node.name!r}; choose from {', '.join(sorted(FILTERS))}"
    if isinstance(node, nodes.Call):
        asked = node.args[0].value if len(node.args) == 1 and isinstance(node.args[0], nodes.Const) else None
        named = isinstance(node.node, nodes.Name) and node.node.name == "gap"
        if not named or node.kwargs or node.dyn_args or node.dyn_kwargs or asked not in checks:
            return 'only gap("…") with the name of a check can be called'
    return ""


@lru_cache(maxsize=2048)
def _compiled(text: str, checks: frozenset[str]) -> Template:
    if len(text) > LONGEST:
        raise TemplateError(f"the text has {len(text):,} characters; {LONGEST:,} are the most")
    try:
        tree = _ENVIRONMENT.parse(text)
        for node in (tree, *tree.find_all(nodes.Node)):
            if wrong := _names(node, checks):
                raise TemplateError(f"line {node.lineno}: {wrong}")
        return _ENVIRONMENT.from_string(text)
    except TemplateSyntaxError as error:
        raise TemplateError(f"line {error.lineno}: {error.message}") from None
    except RecursionError:
        raise TemplateError("conditions are nested too deeply") from None


def check_template(text: str, checks: Collection[str]) -> None:
    """Raise TemplateError unless a text can be used as a template. checks: ids that gap("…") may name."""
    _compiled(text, frozenset(checks))


def write(text: str, facts: Mapping[str, MessageFact], gaps: Collection[str], checks: Collection[str]) -> Written:
    """Fill in a template. gaps: checks that are known to be gaps and may be claimed; checks: ids of all.

    Raises TemplateError, and FactUnknown for a fact that is asked for and not known.
    """
    known = [(name, fact) for name, fact in facts.items() if name in SLOTS and fact.value not in (None, "")]
    shown = {name: _Shown(number, fact.value) for number, (name, fact) in enumerate(known) if fact.value is not None}
    marked = _compiled(text, frozenset(checks)).render(shown | {"gap": lambda check: check in gaps})
    marked = _EMPTY_LINES.sub("\n\n", _LINE_ENDS.sub("\n", marked)).strip()
    used = {known[int(number)][0] for number, _ in _MARKED.findall(marked)}
    return Written(_plain(marked), _sentences(marked, known), frozenset(used))


def _plain(marked: str) -> str:
    return _MARKED.sub(r"\2", marked)


def _sentences(marked: str, known: list[tuple[str, MessageFact]]) -> tuple[Sentence, ...]:
    """Split rendered text where sentences and lines end, but never inside a fact."""
    held = _MARKED.sub(_hidden, marked)
    result = []
    for match in _SENTENCE.finditer(held):
        piece = match.group().translate(_SHOW).strip()
        because = dict.fromkeys(known[int(number)][1].because for number, _ in _MARKED.findall(piece))
        if piece:
            result.append(Sentence(_plain(piece), tuple(filter(None, because))))
    return tuple(result)


def _hidden(match: re.Match[str]) -> str:
    """A fact whose full stops end no sentence, except one at its end."""
    inner, last = match[2][:-1].translate(_HIDE), match[2][-1:]
    return f"{START}{match[1]}{BETWEEN}{inner}{last}{END}"


_HIDE = str.maketrans({".": "\ue010", "!": "\ue011", "?": "\ue012", "…": "\ue013"})
_SHOW = str.maketrans({"\ue010": ".", "\ue011": "!", "\ue012": "?", "\ue013": "…"})
