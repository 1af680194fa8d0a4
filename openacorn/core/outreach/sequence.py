"""A sequence: steps on working days, each with a condition, that end as soon as somebody answers."""

from collections.abc import Sequence as Many
from dataclasses import dataclass
from enum import StrEnum

from openacorn.errors import InvalidInput

MOST_STEPS = 12
MOST_DAYS = 90


class SequenceError(InvalidInput):
    """A sequence that cannot be run; the message says why."""

    where = "steps"
    remedy = "change that step; nothing you entered is lost"


class StepKind(StrEnum):
    """What a step does. A call, a text and a social note are tasks for a person; a page is the owner's page, created and shared."""

    EMAIL = "email"
    CALL = "call"
    TEXT = "text"
    SOCIAL = "social"
    PAGE = "page"


class When(StrEnum):
    """Under which condition a step is done; the others are passed over."""

    ALWAYS = "always"
    PAGE_OPENED = "page opened"
    PAGE_NOT_OPENED = "page not opened"
    BOUNCED = "bounced"
    REPLIED = "replied"


AFTER_THE_END = frozenset({When.BOUNCED, When.REPLIED})
"""Steps that are done, as tasks, once a bounce or a reply has ended the sequence."""

TASKS = frozenset({StepKind.CALL, StepKind.TEXT, StepKind.SOCIAL})


@dataclass(frozen=True, slots=True)
class SequenceStep:
    """after_days: working days after the step before; templates: ids, several of them being tried against one another, none for
    the best one that there is for the business's offer."""

    kind: StepKind
    after_days: int = 0
    templates: tuple[str, ...] = ()
    when: When = When.ALWAYS


@dataclass(frozen=True, slots=True)
class Sequence:
    """quiet_days: nobody who was spoken or written to within so many days is put in."""

    name: str
    steps: tuple[SequenceStep, ...]
    quiet_days: int = 60


@dataclass(frozen=True, slots=True)
class Happened:
    """What conditions ask for."""

    page_opened: bool = False


def check_sequence(sequence: Sequence) -> None:
    """Raise SequenceError unless a sequence can be run."""
    if not sequence.name.strip():
        raise SequenceError("the sequence has no name")
    if not 1 <= len(sequence.steps) <= MOST_STEPS:
        raise SequenceError(f"a sequence has 1 to {MOST_STEPS} steps")
    for number, step in enumerate(sequence.steps, 1):
        if not 0 <= step.after_days <= MOST_DAYS:
            raise SequenceError(f"step {number} waits {step.after_days} days; 0 to {MOST_DAYS} are possible")
        if step.when in AFTER_THE_END and step.kind not in TASKS:
            raise SequenceError(f"step {number} comes after a reply or a bounce: only a task for a person can follow")
    if all(step.when in AFTER_THE_END for step in sequence.steps):
        raise SequenceError("no step would be done before a reply or a bounce")


def holds(when: When, happened: Happened) -> bool:
    """Is a condition met while the sequence runs?"""
    if when is When.PAGE_OPENED:
        return happened.page_opened
    if when is When.PAGE_NOT_OPENED:
        return not happened.page_opened
    return when is When.ALWAYS


def next_step(steps: Many[SequenceStep], after: int, happened: Happened) -> int | None:
    """Index of the next step to do behind `after` (-1 before the first), None at the end."""
    return next((i for i in range(after + 1, len(steps)) if holds(steps[i].when, happened)), None)


def ending_steps(steps: Many[SequenceStep], ended_by: When) -> list[SequenceStep]:
    """Tasks that follow a bounce or a reply."""
    return [step for step in steps if step.when is ended_by]
