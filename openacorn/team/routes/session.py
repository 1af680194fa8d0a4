"""Signing in and out, and everybody's own account: password, one-time codes, sessions, tokens."""

from datetime import UTC, datetime, time

from fastapi import APIRouter, BackgroundTasks, Request, Response

from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import DeskRoute
from openacorn.api.who import COOKIE, IdentityDep, visitor_of
from openacorn.clock import now, utc_now
from openacorn.errors import Conflict, InvalidInput
from openacorn.net.mail import send_notice
from openacorn.team import passwords, people
from openacorn.team.identity import TOKEN_PREFIX, Identity, NoAccount
from openacorn.team.passwords import fingerprint, new_secret
from openacorn.team.schemas.team import (
    CodeRequest,
    CodesResponse,
    CredentialsResponse,
    FirstOwnerRequest,
    ForgottenRequest,
    MeResponse,
    NewPasswordRequest,
    PasswordOnly,
    PasswordRequest,
    SignInRequest,
    TokenRequest,
)
from openacorn.team.signing_in import SESSION, Visitor
from openacorn.team.store import accounts, credentials
from openacorn.team.store.accounts import Account
from openacorn.team.store.credentials import Credential

router = APIRouter(route_class=DeskRoute, tags=["signing in"])


class NoMail(Conflict):
    """Nobody has set up how e-mail leaves here."""

    where = "mail"
    remedy = "ask an owner or a manager for a link"


def own_account(state: AppState, who: Identity) -> Account:
    """The account of the current user. Raises NoAccount where there is none."""
    if not who.account:
        raise NoAccount("there are no accounts yet")
    with state.database.read() as conn:
        return accounts.get_account(conn, who.account)


def _me(state: AppState, who: Identity) -> MeResponse:
    """What somebody who is signed in is shown of themselves."""
    account = own_account(state, who)
    return MeResponse(
        accounts=True, name=account.name, email=account.email, role=account.role, permissions=sorted(who.permissions),
        codes=bool(account.code_secret), csrf=who.csrf,
    )  # fmt: skip


def _let_in(response: Response, secret: str) -> None:
    """Give the browser its session: to this host alone, by encrypted connections alone, unread by scripts."""
    response.set_cookie(
        COOKIE, secret, max_age=int(SESSION.total_seconds()), path="/", secure=True, httponly=True, samesite="strict"
    )


@router.get("/me")
def get_me(state: AppDep, who: IdentityDep) -> MeResponse:
    """Who is signed in, and what they may do."""
    if not who.account:
        open_to_all = bool(who.permissions)
        return MeResponse(
            accounts=not open_to_all, name="", email="", role=who.role, permissions=sorted(who.permissions), codes=False, csrf=""
        )  # fmt: skip
    return _me(state, who)


@router.post("/session")
def sign_in(state: AppDep, request: Request, response: Response, asked: SignInRequest) -> MeResponse:
    """Sign in by e-mail address, password and, where it is on, a one-time code."""
    secret = state.signing_in.sign_in(asked.email, asked.password, asked.code, visitor_of(request))
    return signed_in(state, response, secret)


def signed_in(state: AppState, response: Response, secret: str) -> MeResponse:
    """Give the browser its session, and say who is signed in."""
    _let_in(response, secret)
    return _me(state, state.identities.identify(secret))


@router.delete("/session", status_code=204)
def sign_out(state: AppDep, who: IdentityDep, response: Response) -> None:
    """Sign out in this browser."""
    if who.account:
        state.signing_in.end(who.account, who.credential)
    response.delete_cookie(COOKIE, path="/", secure=True, httponly=True, samesite="strict")


@router.post("/first-owner", status_code=201)
def make_first_owner(state: AppDep, request: Request, response: Response, asked: FirstOwnerRequest) -> MeResponse:
    """Make the first account, an owner's; from then on everybody signs in."""
    with state.database.write() as conn:
        account = people.add_first_owner(conn, asked.email, asked.name, asked.password)
    state.identities.forget()
    return signed_in(state, response, state.signing_in.open_session(account, visitor_of(request)))


@router.post("/new-password")
def choose_password(state: AppDep, request: Request, response: Response, asked: NewPasswordRequest) -> MeResponse:
    """Choose a password by the key of a link, and be signed in."""
    return signed_in(state, response, state.signing_in.use_link(asked.key, asked.password, visitor_of(request)))


@router.post("/forgotten-password", status_code=202)
def send_link(state: AppDep, request: Request, later: BackgroundTasks, asked: ForgottenRequest) -> None:
    """Mail a link for a new password to the person with this address; the answer is the same if nobody has."""
    if not state.settings.mail.host or not state.settings.application_address:
        raise NoMail("no e-mail can be sent from here")
    later.add_task(
        _mail_link, state, asked.email, visitor_of(request)
    )  # after the answer: how long it takes tells nothing


def _mail_link(state: AppState, email: str, visitor: Visitor) -> None:
    found = state.signing_in.forgotten(email, visitor)
    if found is None:
        return
    account, key = found
    address = state.application_url(f"/welcome#{key}")
    text = f"Somebody, perhaps you, asked for a new password.\n\nChoose one here, within two days:\n{address}\n"
    send_notice(state.settings.mail, account.email, "Your new password", text)


@router.put("/me/password", status_code=204)
def change_password(state: AppDep, who: IdentityDep, asked: PasswordRequest) -> None:
    """Choose another password; you are signed out everywhere else."""
    state.signing_in.change_password(own_account(state, who), asked.old, asked.password, who.credential)


@router.post("/me/codes")
def begin_codes(state: AppDep, who: IdentityDep) -> CodesResponse:
    """Begin with one-time codes: the picture for an app. They are asked for once one is confirmed."""
    account = own_account(state, who)
    secret = state.signing_in.begin_codes(account)
    return CodesResponse(secret=secret, picture=passwords.code_picture(secret, account.email))


@router.put("/me/codes")
def confirm_codes(state: AppDep, who: IdentityDep, asked: CodeRequest) -> CodesResponse:
    """Switch one-time codes on; the recovery codes are shown this once."""
    return CodesResponse(recovery=state.signing_in.confirm_codes(own_account(state, who), asked.secret, asked.code))


@router.delete("/me/codes", status_code=204)
def drop_codes(state: AppDep, who: IdentityDep, asked: PasswordOnly) -> None:
    """Switch one-time codes off."""
    state.signing_in.drop_codes(own_account(state, who), asked.password)


def _credentials(state: AppState, who: Identity, secret: str = "") -> CredentialsResponse:
    with state.database.read() as conn:
        return CredentialsResponse(
            sessions=credentials.list_credentials(conn, who.account, "session", utc_now()),
            tokens=credentials.list_credentials(conn, who.account, "token", utc_now()), current=who.credential, secret=secret,
        )  # fmt: skip


@router.get("/credentials")
def list_credentials(state: AppDep, who: IdentityDep) -> CredentialsResponse:
    """Where you are signed in, and your tokens."""
    return _credentials(state, who)


@router.post("/credentials/tokens", status_code=201)
def make_token(state: AppDep, who: IdentityDep, asked: TokenRequest) -> CredentialsResponse:
    """Make a token for a program. It is shown in this answer and never again."""
    account, secret, at = own_account(state, who), new_secret(TOKEN_PREFIX), utc_now()
    until = datetime.combine(asked.until, time.max, UTC)
    if until <= now():
        raise InvalidInput("the token would be over already; choose a later day")
    credential = Credential(
        0, account.id, "token", asked.name.strip(), people.check_scopes(who, asked.scopes), "", at, at,
        until.isoformat(timespec="seconds"),
    )  # fmt: skip
    with state.database.write() as conn:
        credentials.insert_credential(conn, fingerprint(secret), credential)
    return _credentials(state, who, secret)


@router.delete("/credentials/{number}")
def end_credential(state: AppDep, who: IdentityDep, number: int) -> CredentialsResponse:
    """Sign out elsewhere, or make a token good no more."""
    state.signing_in.end(who.account, number)
    return _credentials(state, who)


@router.delete("/credentials")
def end_everywhere(state: AppDep, who: IdentityDep) -> CredentialsResponse:
    """Sign out everywhere but here; tokens stay."""
    with state.database.write() as conn:
        credentials.delete_credentials(conn, who.account, ("session",), but=who.credential)
    state.identities.forget()
    return _credentials(state, who)
