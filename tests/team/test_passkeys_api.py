"""Passkeys against a device of another make (soft-webauthn, by fido2): made, used once, bound to the place, the person and the count."""

import base64
import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from cryptography.hazmat.primitives import hashes
from cryptography.hazmat.primitives.asymmetric import ec
from fido2 import cbor
from fido2.utils import sha256
from soft_webauthn import SoftWebauthnDevice

from openacorn.settings import Settings
from openacorn.team.passkeys import NoPasskeys, Site, site_of
from tests.application import Application, application
from tests.conftest import Coast
from tests.team.person import PASSWORD, Person, first_owner, invited

pytestmark = pytest.mark.world
USER_VERIFIED = 0x04


def text(raw: bytes) -> str:
    return base64.urlsafe_b64encode(raw).decode().rstrip("=")


def raw(text_: str) -> bytes:
    return base64.urlsafe_b64decode(text_ + "===")


class Device:
    """A device with one key, as a browser hands its answers on. asks: does it ask who holds it?"""

    def __init__(self, *, asks: bool = True) -> None:
        self.soft, self._asks = SoftWebauthnDevice(), asks

    def create(self, options: dict[str, Any], origin: str) -> dict[str, Any]:
        asked = {
            **options,
            "challenge": raw(options["challenge"]),
            "user": {**options["user"], "id": raw(options["user"]["id"])},
        }
        made = self.soft.create({"publicKey": asked}, origin)
        attestation = cbor.decode(made["response"]["attestationObject"])
        attestation["authData"] = self._flagged(attestation["authData"])
        response = {"clientDataJSON": made["response"]["clientDataJSON"], "attestationObject": cbor.encode(attestation)}
        return self._answer(response)

    def get(self, options: dict[str, Any], origin: str) -> dict[str, Any]:
        got = self.soft.get({"publicKey": {**options, "challenge": raw(options["challenge"])}}, origin)["response"]
        data = self._flagged(got["authenticatorData"])
        signature = self.soft.private_key.sign(data + sha256(got["clientDataJSON"]), ec.ECDSA(hashes.SHA256()))
        return self._answer({**got, "authenticatorData": data, "signature": signature})

    def _flagged(self, data: bytes) -> bytes:
        return data[:32] + bytes([data[32] | (USER_VERIFIED if self._asks else 0)]) + data[33:]

    def _answer(self, response: dict[str, bytes]) -> dict[str, Any]:
        number = text(self.soft.credential_id)
        return {"id": number, "rawId": number, "type": "public-key", "clientExtensionResults": {},
                "response": {name: text(value) for name, value in response.items()}}  # fmt: skip


@pytest.fixture(scope="module")
def app(coast: Coast, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    folder: Path = tmp_path_factory.mktemp("passkeys")
    with application(folder, Settings(region="AU"), coast.read("places.json")) as running:
        yield running


@pytest.fixture(scope="module")
def ada(app: Application) -> Person:
    return first_owner(app)


@pytest.fixture
def at(app: Application) -> str:
    return f"localhost:{app.port}"


def made(person: Person, device: Device, at: str, name: str = "Ada's phone") -> Any:
    begun = person.ask("POST", "/api/me/passkeys", {"password": PASSWORD}, Host=at).json
    answer = device.create(begun["options"], f"http://{at}")
    return person.ask("PUT", "/api/me/passkeys", {"number": begun["number"], "answer": answer, "name": name}, Host=at)


def begun(app: Application, at: str) -> dict[str, Any]:
    found: dict[str, Any] = Person(app).ask("POST", "/api/passkey-sign-in", {}, Host=at).json
    return found


def signed_in(app: Application, begun: dict[str, Any], answer: dict[str, Any], at: str) -> Any:
    return Person(app).ask("PUT", "/api/passkey-sign-in", {"number": begun["number"], "answer": answer}, Host=at)


def test_made_used_and_taken_away(app: Application, ada: Person, at: str) -> None:
    device = Device()
    kept = made(ada, device, at)
    assert kept.status == 200, kept.body
    assert [one["name"] for one in kept.json] == ["Ada's phone"]
    asked = begun(app, at)
    assert asked["options"]["userVerification"] == "required"
    assert "allowCredentials" not in asked["options"] or asked["options"]["allowCredentials"] == [], (
        "who is there is not said"
    )
    answer = device.get(asked["options"], f"http://{at}")
    entered = signed_in(app, asked, answer, at)
    assert entered.json["name"] == "Ada Finch", entered.body
    person = Person(app).signed(entered)
    assert person.ask("GET", "/api/shortlists").status == 200
    assert person.get("/api/me/passkeys")[0]["used_at"]
    replayed = signed_in(app, asked, answer, at)
    assert (replayed.status, replayed.json["error"]["where"]) == (422, "passkey"), "each answer lets in once"
    number = ada.get("/api/me/passkeys")[0]["id"]
    ada.do("DELETE", f"/api/me/passkeys/{number}")
    asked = begun(app, at)
    assert signed_in(app, asked, device.get(asked["options"], f"http://{at}"), at).status == 401


def test_what_is_not_as_it_should_be_is_refused(app: Application, ada: Person, at: str) -> None:
    device = Device()
    assert made(ada, device, at).status == 200
    assert made(ada, Device(asks=False), at).status == 422, "a device that asks nobody who they are"
    here = f"http://{at}"

    def tried(change: Any = None, origin: str = here, number: str = "") -> int:
        asked = begun(app, at)
        answer = device.get(asked["options"], origin)
        if change:
            change(answer)
        return int(signed_in(app, {**asked, "number": number or asked["number"]}, answer, at).status)

    def with_signature(answer: dict[str, Any]) -> None:
        signature = bytearray(raw(answer["response"]["signature"]))
        signature[-1] ^= 1
        answer["response"]["signature"] = text(bytes(signature))

    def of_another_challenge(answer: dict[str, Any]) -> None:
        said = json.loads(raw(answer["response"]["clientDataJSON"]))
        answer["response"]["clientDataJSON"] = text(json.dumps({**said, "challenge": text(b"x" * 64)}).encode())

    assert tried() == 200
    assert tried(origin="https://evil.example") == 401, "a page elsewhere that asked for the same name"
    assert tried(with_signature) == 401
    assert tried(of_another_challenge) == 401
    assert tried(lambda answer: answer.update(id=text(b"nobody"), rawId=text(b"nobody"))) == 401
    assert tried(lambda answer: answer.update(response={})) == 401
    assert tried(lambda answer: answer.clear()) == 401
    assert tried(number="guessed") == 422
    device.soft.sign_count = 0
    assert tried() == 401, "a copy of the device counts from where it was copied"


def test_a_passkey_is_made_by_its_person_alone(app: Application, ada: Person, at: str) -> None:
    bo = invited(ada, "bo@wrenfold.example", "Bo Reed", "caller")
    assert bo.ask("POST", "/api/me/passkeys", {"password": "not-the-right-one"}, Host=at).status == 422
    asked = ada.ask("POST", "/api/me/passkeys", {"password": PASSWORD}, Host=at).json
    answer = Device().create(asked["options"], f"http://{at}")
    taken = bo.ask("PUT", "/api/me/passkeys", {"number": asked["number"], "answer": answer, "name": "Bo's"}, Host=at)
    assert taken.status == 422, "what was asked for Ada makes no key of Bo's"
    device = Device()
    assert made(bo, device, at, "Bo's key").status == 200
    number = bo.get("/api/me/passkeys")[0]["id"]
    assert ada.ask("DELETE", f"/api/me/passkeys/{number}").status == 404
    account = next(one for one in ada.get("/api/team")["people"] if one["name"] == "Bo Reed")
    off = {name: account[name] for name in ("id", "email", "name", "role", "own_permissions")} | {"active": False}
    ada.do("PUT", "/api/team", off)
    asked = begun(app, at)
    assert signed_in(app, asked, device.get(asked["options"], f"http://{at}"), at).status == 401, (
        "who is switched off stays out"
    )


def test_for_which_names_passkeys_are_made(app: Application, ada: Person) -> None:
    desk = "https://desk.wrenfold.example"
    assert site_of(desk, "desk.wrenfold.example") == Site("desk.wrenfold.example", desk)
    assert site_of(desk, "localhost:8400") == Site("localhost", "http://localhost:8400")
    assert site_of("", "localhost") == Site("localhost", "http://localhost")
    for host in ("127.0.0.1:8400", "desk.wrenfold.example.evil.example", ""):
        with pytest.raises(NoPasskeys):
            site_of(desk, host)
    refused = ada.ask("POST", "/api/me/passkeys", {"password": PASSWORD})
    assert refused.status == 409
    assert "http://localhost" in refused.json["error"]["remedy"]
