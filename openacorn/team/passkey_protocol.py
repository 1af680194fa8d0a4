"""WebAuthn level 2: what a device is asked, and whether its answer holds. Imported when a passkey is first used: it is heavy."""

import json
from collections.abc import Iterable
from typing import Any

import webauthn
from webauthn.helpers.exceptions import WebAuthnException
from webauthn.helpers.structs import (
    AuthenticatorSelectionCriteria,
    PublicKeyCredentialDescriptor,
    ResidentKeyRequirement,
    UserVerificationRequirement,
)

VERIFIED = UserVerificationRequirement.REQUIRED
"""The device asks who holds it: a passkey stands for password and one-time code together."""

WRONG = (WebAuthnException, ValueError, KeyError, TypeError)

Question = tuple[bytes, dict[str, Any]]
"""(the challenge, what the browser hands to the device)."""


class AnswerRefused(Exception):
    """The device's answer does not hold; the message says why."""


def ask_for_key(site: str, email: str, name: str, user_id: bytes, known: Iterable[bytes]) -> Question:
    """Ask for a new key. site: host name; known: the person's credentials that are not to be made again."""
    options = webauthn.generate_registration_options(
        rp_id=site,
        rp_name="Open Acorn",
        user_name=email,
        user_display_name=name,
        user_id=user_id,
        authenticator_selection=AuthenticatorSelectionCriteria(
            resident_key=ResidentKeyRequirement.REQUIRED, user_verification=VERIFIED
        ),
        exclude_credentials=[PublicKeyCredentialDescriptor(id=one) for one in known],
    )
    return options.challenge, json.loads(webauthn.options_to_json(options))


def read_key(answer: dict[str, Any], challenge: bytes, site: str, origin: str) -> tuple[bytes, bytes, int]:
    """(credential, public key, uses so far) of a key that a device made. Raises AnswerRefused."""
    try:
        made = webauthn.verify_registration_response(
            credential=answer,
            expected_challenge=challenge,
            expected_rp_id=site,
            expected_origin=origin,
            require_user_verification=True,
        )
    except WRONG as error:
        raise AnswerRefused(str(error)) from None
    return made.credential_id, made.credential_public_key, made.sign_count


def ask_to_sign_in(site: str) -> Question:
    """Ask for a signature by any key of a site; the device knows the account."""
    options = webauthn.generate_authentication_options(rp_id=site, user_verification=VERIFIED)
    return options.challenge, json.loads(webauthn.options_to_json(options))


def read_sign_in(answer: dict[str, Any], challenge: bytes, site: str, origin: str, key: bytes, uses: int) -> int:
    """How often the key was used by now. key: public key; uses: as last known. Raises AnswerRefused."""
    try:
        shown = webauthn.verify_authentication_response(
            credential=answer,
            expected_challenge=challenge,
            expected_rp_id=site,
            expected_origin=origin,
            credential_public_key=key,
            credential_current_sign_count=uses,
            require_user_verification=True,
        )
    except WRONG as error:
        raise AnswerRefused(str(error)) from None
    return shown.new_sign_count
