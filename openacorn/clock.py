"""The time: moments as the store has them, and the user's own day (a day to come back to somebody is not Greenwich's)."""

from datetime import UTC, datetime


def utc_now() -> str:
    """This moment (ISO 8601, UTC)."""
    return datetime.now(UTC).isoformat(timespec="seconds")


def today() -> str:
    """The day here (ISO 8601)."""
    return datetime.now().astimezone().date().isoformat()


def midnight() -> str:
    """When this day began here, as the store has moments (ISO 8601, UTC)."""
    here = datetime.now().astimezone().replace(hour=0, minute=0, second=0, microsecond=0)
    return here.astimezone(UTC).isoformat(timespec="seconds")
