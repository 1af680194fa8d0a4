"""The language that a business's owner is written to in: as it is chosen, and by hand."""

from fastapi import APIRouter

from openacorn.api.deps import AppDep
from openacorn.api.schemas import Id
from openacorn.api.threads import DeskRoute
from openacorn.business.store import audits, businesses
from openacorn.core.languages.catalogue import LANGUAGES
from openacorn.outreach.schemas.languages import Language, LanguageChoice, LanguageRequest
from openacorn.outreach.store import languages as store
from openacorn.outreach.whereabouts import country_of, language_of_owner, language_of_site

router = APIRouter(route_class=DeskRoute, tags=["owners' languages"])


@router.get("/languages")
def list_languages() -> list[Language]:
    """Languages that owners can be written to in."""
    return [Language(code=code, name=name) for code, name in LANGUAGES.items()]


@router.get("/businesses/{business_id}/language")
def get_language(state: AppDep, business_id: Id) -> LanguageChoice:
    """A business's language, and what it was chosen by."""
    with state.database.read() as conn:
        row, audit = businesses.get_business(conn, business_id), audits.get_evidence(conn, business_id)
        by_hand, of_list = store.get_language(conn, business_id), store.language_of_lists(conn, business_id)
        chosen = language_of_owner(conn, row, audit, state.settings.region)
        country = country_of(row, state.settings.region)
    if by_hand or of_list:
        because = "by hand" if by_hand else "by list"
    elif language_of_site(audit).partition("-")[0].lower() == chosen:
        because = "by website"
    else:
        because = "by country" if country else "nothing else is known"
    return LanguageChoice(language=chosen, name=LANGUAGES[chosen], by_hand=by_hand, because=because)


@router.put("/businesses/{business_id}/language")
def set_language(state: AppDep, business_id: Id, asked: LanguageRequest) -> LanguageChoice:
    """Set a business's language by hand; "" goes back to what is known of it."""
    with state.database.write() as conn:
        businesses.get_business(conn, business_id)
        store.set_language(conn, business_id, asked.language)
    return get_language(state, business_id)
