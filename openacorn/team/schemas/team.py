"""People who sign in, their sessions and tokens."""

from datetime import date

from pydantic import Field

from openacorn.api.schemas import Id, RequestModel, ResponseModel
from openacorn.core.team.permission import Permission
from openacorn.team.store.credentials import Credential, LoggedActivity

EMAIL = r"^[^@\s]+@[^@\s]+$"


class MeResponse(ResponseModel):
    """The current user. accounts: are there any; name: "" if nobody is signed in; csrf: goes with each change as X-CSRF-Token."""

    accounts: bool
    name: str
    email: str
    role: str
    permissions: list[Permission]
    codes: bool
    """Are one-time codes on?"""
    csrf: str


class SignInRequest(RequestModel):
    """code: of the app, or a recovery code; "" at first."""

    email: str = Field(max_length=254)
    password: str = Field(max_length=1000)
    code: str = Field(default="", max_length=40)


class FirstOwnerRequest(RequestModel):
    """The first account of an installation."""

    email: str = Field(max_length=254, pattern=EMAIL)
    name: str = Field(min_length=1, max_length=60)
    password: str = Field(max_length=1000)


class NewPasswordRequest(RequestModel):
    """A password chosen by the key of a link."""

    key: str = Field(max_length=200)
    password: str = Field(max_length=1000)


class ForgottenRequest(RequestModel):
    """Whose password was forgotten."""

    email: str = Field(max_length=254)


class PasswordRequest(RequestModel):
    """old: the present password."""

    old: str = Field(max_length=1000)
    password: str = Field(max_length=1000)


class CodeRequest(RequestModel):
    """secret: what the picture was made from; code: what the app shows."""

    secret: str = Field(pattern=r"^[A-Z2-7]{32}$")
    code: str = Field(max_length=20)


class PasswordOnly(RequestModel):
    """The present password."""

    password: str = Field(max_length=1000)


class CodesResponse(ResponseModel):
    """secret, picture (a data address): of codes that can be confirmed now; recovery: codes that are shown this once."""

    secret: str = ""
    picture: str = ""
    recovery: list[str] = Field(default=[])


class AccountResponse(ResponseModel):
    """own_permissions: a list made for this person, None where the role says it all; waiting: no password chosen yet."""

    id: int
    email: str
    name: str
    role: str
    permissions: list[Permission]
    own_permissions: list[Permission] | None
    active: bool
    waiting: bool
    codes: bool
    seen_at: str


class PermissionResponse(ResponseModel):
    """A kind of act."""

    id: Permission
    meaning: str


class TeamResponse(ResponseModel):
    """Everybody, and what can be given. link: an address by which somebody chooses a password, shown in this answer alone."""

    people: list[AccountResponse]
    roles: dict[str, list[Permission]]
    permissions: list[PermissionResponse]
    link: str = ""
    mailed: str = ""
    """What became of the e-mail with the link; "" if none was to be sent."""


class AccountRequest(RequestModel):
    """An account, id 0 for a new one."""

    id: Id = 0
    email: str = Field(max_length=254, pattern=EMAIL)
    name: str = Field(min_length=1, max_length=60)
    role: str = Field(max_length=20)
    own_permissions: list[Permission] | None = None
    active: bool = True


class CredentialsResponse(ResponseModel):
    """Sessions and tokens of the current user. current: the session that asks; secret: of the token made just now."""

    sessions: list[Credential]
    tokens: list[Credential]
    current: int
    secret: str = ""


class TokenRequest(RequestModel):
    """until: the last day it lets in."""

    name: str = Field(min_length=1, max_length=60)
    scopes: list[Permission] = Field(min_length=1, max_length=20)
    until: date


class PresenceRequest(RequestModel):
    """leaves: it is closed now."""

    leaves: bool = False


class ActivitiesResponse(ResponseModel):
    """more: are there earlier ones; authors: everybody who did something."""

    activities: list[LoggedActivity]
    more: bool
    authors: list[str]
