"""The day as it is where the application runs: days to come back to somebody are the user's days, not Greenwich's."""

from datetime import UTC, datetime


def today() -> str:
    """The day here (ISO 8601)."""
    return datetime.now().astimezone().date().isoformat()


def midnight() -> str:
    """When this day began here, as the store has moments (ISO 8601, UTC)."""
    here = datetime.now().astimezone().replace(hour=0, minute=0, second=0, microsecond=0)
    return here.astimezone(UTC).isoformat(timespec="seconds")
