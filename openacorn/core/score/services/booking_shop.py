"""Booking and buying online."""

from openacorn.core.score.service import Rule, Service, has_site

SERVICE = Service(
    id="booking_shop",
    title="Booking and shop",
    sentence="Customers cannot book or buy after hours, but competitors nearby offer it.",
    fee=980,
    monthly=40,
    months=18,
    delivery=700,
    gates=has_site(),
    rules=(
        Rule("booking", 4),
        Rule("shop", 2),
        Rule("contact_form", 1),
        Rule("hours_found", 1),
    ),
)
