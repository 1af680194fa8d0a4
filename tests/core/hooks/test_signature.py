"""Signatures of webhooks: the specification's own example, and its reference library for Python both ways."""

import json
from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st
from standardwebhooks import Webhook, WebhookVerificationError

from openacorn.core.hooks.event import RESTS_S, rest_after
from openacorn.core.hooks.signature import headers_of, secret_of


def test_the_example_of_the_reference_libraries() -> None:
    """The vector that their test suites share (Standard Webhooks, `libraries/*/tests`)."""
    made = headers_of(
        "whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw", "msg_p5jXN8AQM9LWM0D4loKWxJek", 1614265330, b'{"test": 2432232314}'
    )
    assert made["webhook-signature"] == "v1,g0hM9SsE+OTPJTGt/tmIKtSyZlE3uFJELVlNIOLJ1OE="


@given(
    st.binary(min_size=24, max_size=64),
    st.integers(1, 10**12),
    st.dictionaries(st.text(max_size=8), st.text(max_size=20), max_size=4),
)
def test_the_reference_library_takes_what_we_sign_and_nothing_else(
    key: bytes, number: int, data: dict[str, str]
) -> None:
    now, body = datetime.now(UTC), json.dumps({"type": "test", "data": data}).encode()
    headers = headers_of(secret_of(key), f"msg_{number}", int(now.timestamp()), body)
    reference = Webhook(secret_of(key))
    assert reference.verify(body, headers) == json.loads(body)
    assert reference.sign(f"msg_{number}", now, body.decode()) == headers["webhook-signature"]
    old = headers_of(secret_of(key), f"msg_{number}", int((now - timedelta(hours=1)).timestamp()), body)
    for wrong, sent in ((old, body), (headers, body + b" "), (headers | {"webhook-id": "msg_0"}, body)):
        with pytest.raises(WebhookVerificationError):
            reference.verify(sent, wrong)


@pytest.mark.parametrize("secret", ["", "whsec_", "whsec_!!", "whsec_YWJj", "whsec_" + "QUJD" * 40])
def test_what_is_no_secret(secret: str) -> None:
    with pytest.raises(ValueError, match="secret"):
        headers_of(secret, "msg_1", 1, b"{}")


def test_it_is_tried_for_days_and_then_given_up() -> None:
    rests = [rest_after(attempts) for attempts in range(1, len(RESTS_S) + 2)]
    assert rests == [*RESTS_S, None]
    assert timedelta(days=2) < timedelta(seconds=sum(RESTS_S)) < timedelta(days=4)
