"""Which permission each operation of the API needs: one table, from top to bottom, the first line that fits counts.

An operation that no line fits stops the start, and so does a line that fits none: nothing is open by oversight.
"""

from collections.abc import Iterable
from dataclasses import dataclass

from openacorn.core.team.allowance import Allowance
from openacorn.core.team.permission import Permission

OPEN = "open"
"""For everybody, signed in or not."""

SELF = "self"
"""For the person signed in, about themselves."""


@dataclass(frozen=True, slots=True)
class PermissionRule:
    """methods: separated by spaces; path: as in the OpenAPI document, without /api; logged: is it an act? counts: against which
    allowance.

    "/x*" is /x, /x/… and /x.…, but not /xy: another noun may begin alike. "/x/*" is /x/… alone.
    """

    needs: str
    methods: str
    path: str
    logged: bool = True
    counts: Allowance | None = None

    def fits(self, method: str, path: str) -> bool:
        """Is it about this operation?"""
        if method not in self.methods.split():
            return False
        if not self.path.endswith("*"):
            return path == self.path
        base = self.path[:-1]
        return path.startswith(base if base.endswith("/") else (f"{base}/", f"{base}.")) or path == base


def _rules(needs: str, lines: str, *, logged: bool = True, counts: Allowance | None = None) -> list[PermissionRule]:
    return [
        PermissionRule(needs, methods.replace("+", " "), path, logged, counts)
        for methods, path in map(str.split, lines.strip().splitlines())
    ]


RULES: tuple[PermissionRule, ...] = (
    *_rules(OPEN, """
        GET /health/live
        GET /health/ready
        GET /me
        POST /session
        POST /first-owner
        POST /new-password
        POST /forgotten-password
        POST+PUT /passkey-sign-in
        POST /shared-view
        GET /feeds/{preset_id}
    """, logged=False),
    *_rules(SELF, """
        DELETE /session
        GET /credentials
        POST+DELETE /credentials*
        GET /me/passkeys
        PUT /me*
        POST+DELETE /me/*
        GET /status
        GET /allowances
    """),
    *_rules(Permission.SEE, """
        POST /services/preview
        POST /services/{service_id}/preview
        POST /territories/held
        POST /notices/seen
    """, logged=False),
    *_rules(Permission.MANAGE, """
        POST /people-data/find
    """, logged=False),
    *_rules(Permission.MANAGE, """
        GET+PUT+POST+DELETE /team*
        PUT /assignment-rules
        GET+PUT /spending*
        GET+POST /backups*
        GET /activity-log*
        GET+PUT /people-data*
        POST /people-data/erase
        POST /people-data/export
        GET /health
        GET+PUT+POST /settings*
        POST /demo/*
        GET+POST+PUT+DELETE /apis*
        GET+POST+PUT+DELETE /recipes*
        GET+PUT+DELETE /mailboxes*
        PUT+DELETE /text-gateway
        GET /text-gateway
        PUT+DELETE /website-hosts*
        POST /website-hosts/key
        GET+PUT+POST+DELETE /webhooks*
        POST /webhook-deliveries/*
        POST+DELETE /do-not-call
        PUT /sending
        GET+PUT /calendar-feed
    """),
    *_rules(Permission.EXPORT, """
        POST /businesses/export/{format_id}
        POST /everything.ndjson
        POST /everything.sqlite
        POST /presets/{preset_id}/file
        POST /presets/{preset_id}/deliver
        GET /shortlists/{shortlist_id}/call-list.csv
        GET /shortlists/{shortlist_id}/audience.csv
        GET /shortlists/{shortlist_id}/labels.pdf
        GET /shortlists/{shortlist_id}/round.{form}
        GET /shortlists/{shortlist_id}/list.{form}
        GET /shortlists/{shortlist_id}/call-sheets.{form}
        GET /mailings/{number}.{form}
    """, counts=Allowance.EXPORTS),
    *_rules(Permission.EXPORT, """
        GET+POST+DELETE /presets*
        GET+POST+DELETE /view-links*
        POST /exports/layout
    """),
    *_rules(Permission.WORK, """
        POST /businesses/{business_id}/contacts
    """, counts=Allowance.CONTACTS),
    *_rules(Permission.SEND, """
        POST /businesses/{business_id}/conversation
    """, counts=Allowance.CONTACTS),
    *_rules(Permission.OFFERS, """
        POST+PUT+DELETE /services*
        PUT+DELETE /message-templates
        PUT+DELETE /sequences*
        PUT+DELETE /letterhead*
        PUT /win-model
        PUT /call-list-columns
    """),
    *_rules(Permission.SPEND, """
        POST+PUT+DELETE /sweeps*
        POST+PUT /imports*
        POST /everything
        GET /imports
        POST /runs/*
        GET /schedules
        POST+DELETE /territories*
        GET+PUT /territories/{territory_id}/sharing
        POST /regions
        POST+DELETE /trades*
        POST /verifications*
        POST /audits/judge
    """),
    *_rules(Permission.SEND, """
        POST /mailboxes/{number}/*
        POST /shortlists/{shortlist_id}/mailings
        POST+PUT /messages*
        POST /text-gateway/test
        POST /sequences/{sequence_id}/pause
        POST /sequences/{sequence_id}/enrolments
        POST /enrolments/{number}
        POST+PUT /owner-pages*
        POST+PUT /proposals*
        POST /businesses/{business_id}/proposals
        POST+PUT /businesses/{business_id}/website*
    """),
    *_rules(Permission.PEOPLE, """
        POST /sequences/{sequence_id}/candidates
        POST /message-template-preview
        POST /message-template-fit
        POST /businesses/{business_id}/presence
    """, logged=False),
    *_rules(Permission.WORK, """
        POST /actions*
        POST /audits
        POST+DELETE /angles*
        POST+DELETE /duplicates*
        POST /businesses/{business_id}/split
        PUT /businesses/{business_id}/fields/{field}
        PUT /businesses/{business_id}/language
        POST+DELETE /relationships*
        POST+DELETE /businesses/{business_id}/appointments
        DELETE /appointments/{appointment_id}
        PUT+POST /inbox*
        POST /call-results
        PUT /replies/{reply_id}
        POST+DELETE /businesses/{business_id}/activities*
        POST+PATCH+DELETE /shortlists*
        GET+PUT /shortlists/{shortlist_id}/sharing
        GET /colleagues
    """),
    *_rules(Permission.PEOPLE, """
        GET /businesses/{business_id}/company
        GET /businesses/{business_id}/appointments
        GET /businesses/{business_id}/calendar.ics
        GET /businesses/{business_id}/call-sheet*
        GET /businesses/{business_id}/conversation
        GET /businesses/{business_id}/activities
        GET /businesses/{business_id}/proposals
        GET /businesses/{business_id}/website*
        GET /businesses/{business_id}/owner-page
        GET /businesses/{business_id}/pictures/{kind}
        GET /businesses/{business_id}/history
        GET /businesses/{business_id}/origins
        GET /appointments
        GET /calls
        GET /duplicates
        GET /shortlists/{shortlist_id}/*
        GET /inbox
        GET /owner-pages*
        GET /replies
        GET /letterhead*
        GET /proposals*
        GET /queue
        GET /messages*
        GET /message-templates
        GET /message-template-versions
        GET /sequences*
        GET /sending
        GET /relationships
        GET /verifications/open
        GET /actions
        GET /what-works
        GET /website-hosts
        GET /find
        GET /changes
        GET /runs/{run_id}/compare/{earlier}
        GET /paper-parts
        GET /call-list-columns
        GET /assignment-rules
        GET /my-day
    """),
    *_rules(Permission.SEE, """
        GET /metrics
        GET /events
        GET /countries
        GET /map*
        GET /places
        GET /trades
        GET /sources
        GET /checks
        GET /coverage
        GET /businesses*
        GET /sweeps*
        GET /territories
        GET /regions*
        GET /services*
        GET /angles
        GET /columns
        GET /exports
        GET /insight*
        GET /languages
        GET /shortlists
        GET /win-model
        GET /runs*
        GET /notices
    """),
)  # fmt: skip


def permissions_needed(operations: Iterable[tuple[str, str]]) -> dict[tuple[str, str], PermissionRule]:
    """(method, path without /api) → the rule for it. Raises LookupError for one without, and for a rule that is of none."""
    found: dict[tuple[str, str], PermissionRule] = {}
    for method, path in operations:
        rule = next((rule for rule in RULES if rule.fits(method, path)), None)
        if rule is None:
            raise LookupError(f"{method} {path} needs no permission yet: give it a line in {__name__}.RULES")
        found[method, path] = rule
    used = set(map(id, found.values()))
    idle = [f"{rule.methods} {rule.path}" for rule in RULES if id(rule) not in used]
    if idle:
        raise LookupError(f"lines of {__name__}.RULES fit no operation: {', '.join(idle)}")
    return found
