"""Mailboxes, the queue, and how the agency sends."""

from typing import Annotated, Literal

from pydantic import Field

from openacorn.api.schemas import Day, Id, RequestModel, ResponseModel
from openacorn.core.outreach.message_check import Remark
from openacorn.core.outreach.message_template import LONGEST, Sentence
from openacorn.core.writing.fidelity import SentenceCheck
from openacorn.core.writing.helper import Tone
from openacorn.outreach.schemas.languages import LanguageCode
from openacorn.outreach.store.messages import MessageState

Security = Literal["tls", "starttls", "none"]
EMAIL = r"^[^@\s<>\"]+@[^@\s<>\"]+\.[^@\s<>\"]+$"
HOST = r"^[A-Za-z0-9.:\[\]-]*$"


class MailboxRequest(RequestModel):
    """A mailbox to save; id 0: a new one. password: None to leave it as it is; warm_up_from: a day (ISO 8601), "" if it is warm."""

    id: Id = 0
    address: str = Field(max_length=254, pattern=EMAIL)
    name: str = Field(default="", max_length=80)
    smtp_host: str = Field(min_length=1, max_length=253, pattern=HOST)
    smtp_port: int = Field(default=465, ge=1, le=65535)
    smtp_security: Security = "tls"
    imap_host: str = Field(default="", max_length=253, pattern=HOST)
    imap_port: int = Field(default=993, ge=1, le=65535)
    imap_security: Security = "tls"
    user: str = Field(default="", max_length=254)
    sign_in: Literal["password", "token", "none"] = "password"
    daily_limit: int = Field(default=40, ge=1, le=2000)
    gap_s: int = Field(default=180, ge=1, le=86_400)
    jitter_s: int = Field(default=120, ge=0, le=86_400)
    warm_up_from: Day = ""
    paused: bool = False
    password: str | None = Field(default=None, max_length=4000)


class MailboxResponse(ResponseModel):
    """A mailbox as it stands. today: how many may leave today; sent_today: how many did."""

    id: int
    address: str
    name: str
    smtp_host: str
    smtp_port: int
    smtp_security: Security
    imap_host: str
    imap_port: int
    imap_security: Security
    user: str
    sign_in: Literal["password", "token", "none"]
    daily_limit: int
    gap_s: int
    jitter_s: int
    warm_up_from: str
    paused: bool
    problem: str
    reading_problem: str
    read_at: str
    password_kept: bool
    today: int
    sent_today: int


class TrialResponse(ResponseModel):
    """How trying a mailbox went: "" where nothing is wrong. domain: what its records lack that mail services ask of senders."""

    sending: str
    reading: str
    domain: list[str] = Field(default=[])


class TestMessageRequest(RequestModel):
    """Send a message to oneself."""

    to: str = Field(max_length=254, pattern=EMAIL)


class RulesModel(RequestModel):
    """How the agency sends. by_hand: so many messages are approved by hand first, -1 for all; opens, closes: minutes after midnight
    where it is received; days: Monday is 0."""

    by_hand: int = Field(default=50, ge=-1, le=100_000)
    opens: int = Field(default=540, ge=0, le=1440)
    closes: int = Field(default=1020, ge=0, le=1440)
    days: list[Annotated[int, Field(ge=0, le=6)]] = Field(default=[0, 1, 2, 3, 4], max_length=7)
    on_holidays: bool = False
    domain_cap: int = Field(default=10, ge=1, le=1000)
    post_address: str = Field(default="", max_length=300)
    paused: bool = False


class QueueLine(ResponseModel):
    """A message in a list. at: when it goes by the plan, or went; box: by which mailbox; why: why it does not go, or did not."""

    id: int
    business_id: int
    business: str
    sequence: str
    address: str
    person: str
    subject: str
    state: MessageState
    at: str
    box: str
    why: str


class QueueResponse(ResponseModel):
    """counts: state → messages; lines: of the states asked for, in order of time; total: how many there are of them; by_hand_left:
    messages that are still to be approved before the rest goes without."""

    counts: dict[str, int]
    lines: list[QueueLine]
    total: int
    by_hand_left: int


class MessageResponse(ResponseModel):
    """One message with what its sentences rest on. helper: host of the writing helper, "" if there is none."""

    id: int
    business_id: int
    address: str
    person: str
    subject: str
    text: str
    because: list[Sentence]
    state: MessageState
    problem: str
    remarks: list[Remark]
    language: str
    helper: str


class RewordRequest(RequestModel):
    """How a message is to be worded; subject, text: as they stand on the screen; language: ISO 639-1."""

    tone: Tone
    language: LanguageCode = "en"
    subject: str = Field(max_length=200)
    text: str = Field(min_length=1, max_length=LONGEST)


class RewordResponse(ResponseModel):
    """A message as the writing helper worded it. holds: may it be used? lost: links that it lacks; asked: what the helper was
    asked, to the letter."""

    subject: str
    text: str
    holds: bool
    subject_check: list[SentenceCheck]
    sentences: list[SentenceCheck]
    lost: list[str]
    asked: str


class MessageRequest(RequestModel):
    """Another text for a message that has not left. language: of it, "" if it is as before."""

    subject: str = Field(max_length=200)
    text: str = Field(min_length=1, max_length=LONGEST)
    language: LanguageCode = ""


class ApproveRequest(RequestModel):
    """Messages that may leave; every: all that wait for it."""

    ids: list[Id] = Field(default=[], max_length=10_000)
    every: bool = False
