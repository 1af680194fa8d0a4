"""What works: results of messages, by template, sequence, service, mailbox, step or hour."""

from fastapi import APIRouter

from openacorn.api.deps import AppDep
from openacorn.api.schemas import ResponseModel
from openacorn.api.threads import DeskRoute
from openacorn.business.store import services
from openacorn.core.outreach.what_works import By, WhatWorks, what_works
from openacorn.outreach.store.what_works import list_sent
from openacorn.outreach.template_library import all_templates

router = APIRouter(route_class=DeskRoute, tags=["what works"])


class WhatWorksResponse(ResponseModel):
    """groups: the most sent first; names: group → what people call it."""

    groups: list[WhatWorks]
    names: dict[str, str]


@router.get("/what-works")
def show(state: AppDep, by: By = By.TEMPLATE) -> WhatWorksResponse:
    """The result of every e-mail that was sent: arrived, page opened, answered, answered well, won; with 95 % intervals."""
    with state.database.read() as conn:
        groups = what_works(list_sent(conn, by))
        titles = {service.id: service.title for service in services.list_services(conn)}
        names = {group.group: group.group or "by hand" for group in groups}
        if by is By.SERVICE:
            names |= {name: titles.get(name, name) for name in names if name}
        elif by is By.TEMPLATE:
            found = {key: item.template for key, item in all_templates(conn).items()}
            names |= {
                key: f"{titles.get(t.service, 'Any service')}: {t.name}" for key, t in found.items() if key in names
            }
        elif by is By.HOUR:
            names |= {name: f"{name}:00–{name}:59 UTC" for name in names}
    return WhatWorksResponse(groups=groups, names=names)
