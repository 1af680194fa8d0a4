"""Passkeys: make one, sign in by one, take one away."""

from fastapi import APIRouter, Request, Response

from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import DeskRoute
from openacorn.api.who import IdentityDep, visitor_of
from openacorn.team import passwords
from openacorn.team.passkeys import Site, site_of
from openacorn.team.routes.session import own_account, signed_in
from openacorn.team.schemas.passkeys import NewPasskey, PasskeyAnswer, PasskeyOptions, PasskeyResponse
from openacorn.team.schemas.team import MeResponse, PasswordOnly
from openacorn.team.signing_in import WrongPassword
from openacorn.team.store import passkeys

router = APIRouter(route_class=DeskRoute, tags=["signing in"])


def _site(state: AppState, request: Request) -> Site:
    return site_of(state.settings.application_address, request.headers.get("host", ""))


@router.get("/me/passkeys")
def list_passkeys(state: AppDep, who: IdentityDep) -> list[PasskeyResponse]:
    """Your passkeys."""
    with state.database.read() as conn:
        return [PasskeyResponse.model_validate(one) for one in passkeys.list_passkeys(conn, who.account)]


@router.post("/me/passkeys")
def begin_passkey(state: AppDep, who: IdentityDep, request: Request, asked: PasswordOnly) -> PasskeyOptions:
    """Begin to make a passkey; your password shows that it is you who does."""
    account, site = own_account(state, who), _site(state, request)
    if not passwords.password_is(account.password, asked.password):
        raise WrongPassword("this is not your present password")
    number, options = state.passkeys.begin(account, site)
    return PasskeyOptions(number=number, options=options)


@router.put("/me/passkeys")
def keep_passkey(state: AppDep, who: IdentityDep, request: Request, asked: NewPasskey) -> list[PasskeyResponse]:
    """Keep the passkey that your device made."""
    state.passkeys.keep(own_account(state, who), _site(state, request), asked.number, asked.answer, asked.name.strip())
    return list_passkeys(state, who)


@router.delete("/me/passkeys/{number}")
def drop_passkey(state: AppDep, who: IdentityDep, number: int) -> list[PasskeyResponse]:
    """Take a passkey away: it lets nobody in any more."""
    with state.database.write() as conn:
        passkeys.delete_passkey(conn, number, who.account)
    return list_passkeys(state, who)


@router.post("/passkey-sign-in")
def begin_passkey_sign_in(state: AppDep, request: Request) -> PasskeyOptions:
    """Begin to sign in by a passkey."""
    number, options = state.passkeys.begin_sign_in(_site(state, request))
    return PasskeyOptions(number=number, options=options)


@router.put("/passkey-sign-in")
def sign_in_by_passkey(state: AppDep, request: Request, response: Response, asked: PasskeyAnswer) -> MeResponse:
    """Sign in by what your device answered."""
    secret = state.passkeys.sign_in(_site(state, request), asked.number, asked.answer, visitor_of(request))
    return signed_in(state, response, secret)
