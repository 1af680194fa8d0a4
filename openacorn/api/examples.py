"""Requests as somebody would send them, shown in the API's document beside the operations that are asked most."""

from typing import Any

AROUND = {"name": "Port Ellery", "lat": -37.02, "lon": 160.02, "radius_m": 5000}
PLAN = {
    "trades": ["vets", "amenity/dentist"],
    "areas": [AROUND],
    "sources": ["listing_service"],
    "facts": ["website", "contacts"],
}

EXAMPLES: dict[str, dict[str, Any]] = {
    "shortlists-add-shortlist": {"name": "Port Ellery, first calls"},
    "shortlists-change-shortlist": {"name": "Port Ellery, second calls"},
    "shortlists-add-members": {"filter": {"trade": "vets", "check.https": "gap"}},
    "shortlists-drop-members": {"ids": [1]},
    "shortlists-move": {"ids": [1], "stage": "talking", "owner": "Cal Rook", "follow_up": "2027-02-01"},
    "shortlists-add-step": {"text": "Asked for the owner; back on Monday"},
    "outcomes-note": {"result": "call back", "note": "Busy until the fair is over", "follow_up": "2027-02-01"},
    "appointments-make-appointment": {"at": "2027-02-01T10:30+11:00", "minutes": 30, "place": "at their shop", "note": "Findings"},
    "matching-correct": {"value": "+61 3 5550 0100"},
    "desk-do": {"kind": "tag", "ids": [1], "word": "spring fair"},
    "angles-add-angle": {
        "name": "Loved but unseen", "line": "Your customers praise you; let others find you.",
        "filter": {"reviews": "50..", "website": "none"},
    },
    "audits-audit-again": {"ids": [1], "rendered": False},
    "sweeps-add-sweep": {"name": "Vets and dentists, Port Ellery", "plan": PLAN, "start": False},
    "sweeps-estimate-sweep": PLAN,
    "schedules-set-schedule": {"every": "monthly", "at": "2027-02-01T06:00"},
    "territories-add-territory": {"name": "Port Ellery", "areas": [AROUND]},
    "catalogue-add-trade": {"label": "Kite maker", "plural": "Kite makers", "words": ["kites", "kite workshop"]},
    "imports-paste": {"kind": "list", "text": "Name,Town,Website\nKites of Kelpford,Kelpford,https://kites-of-kelpford.example\n"},
    "relationships-add-relationships": {"kind": "client", "text": "gullhaven-vets.example\n+61 3 5550 0100"},
    "exports-put-preset": {
        "name": "New this month", "format": "csv", "filter": {"seen": "..31"}, "only_new": True, "link": True,
    },
    "owners-pages-make": {"ids": [1], "share": False},
    "sequences-list-candidates": {"filter": {"trade": "vets"}},
    "webhooks-save": {"name": "Our CRM", "url": "https://crm.wrenfold.example/acorn", "events": ["run.finished"]},
    "team-save-account": {"email": "cal@wrenfold.example", "name": "Cal Rook", "role": "caller"},
    "signing-in-make-token": {"name": "Nightly report", "scopes": ["see", "export"], "until": "2027-06-30"},
    "peoples-data-find-person": {"emails": ["jo@gullhaven-vets.example"]},
    "peoples-data-export-person": {"emails": ["jo@gullhaven-vets.example"]},
    "settings-save-settings": {"values": {"retention_months": 24}},
}  # fmt: skip
"""Operation → a body of its request."""
