"""Send something to an address that the user entered: guarded as every request is, to that address and to no other."""

from openacorn.core.audit.evidence import Failure
from openacorn.net.client import Client
from openacorn.net.errors import FetchError
from openacorn.settings import Settings

SECONDS = 30.0
ANSWER_BYTES = 10_000


async def post(
    settings: Settings, url: str, body: bytes, media_type: str, headers: dict[str, str] | None = None
) -> str:
    """Send a body; return why that failed, in words, "" if it did not."""
    return (await send(settings, url, body, media_type, headers))[1]


async def send(
    settings: Settings, url: str, body: bytes, media_type: str, headers: dict[str, str] | None = None
) -> tuple[int, str]:
    """Send a body; return (the status of the answer, 0 for none; why it failed, in words, "" if it did not).

    A redirect is not followed: what is sent must not end up with a host that the user never named.
    """
    try:
        async with Client(settings) as client:
            answer = await client.fetch(
                url,
                form=body,
                headers={"Content-Type": media_type, **(headers or {})},
                max_body=ANSWER_BYTES,
                seconds=SECONDS,
            )
    except FetchError as error:
        if error.failure is Failure.PRIVATE:
            return 0, "it is in a private network: name its host among the trusted hosts in Settings"
        return 0, f"it could not be reached, {error.failure}"
    said = f"it answered HTTP {answer.status}"
    if 300 <= answer.status < 400:
        return answer.status, f"{said}, a redirect, which is not followed: enter the address it leads to"
    return answer.status, "" if answer.status < 300 else said
