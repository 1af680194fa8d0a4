"""Hosts, and websites published there."""

from typing import Literal

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel
from openacorn.starter.store.publications import Publication


class HostResponse(ResponseModel):
    """fingerprint: of the server's key that was confirmed; secret_kept: is there a password or key?"""

    id: int
    name: str
    kind: str
    address: str
    account: str
    branch: str
    fingerprint: str
    secret_kept: bool


class HostRequest(RequestModel):
    """A host to be stored, id 0 for a new one. secret: a password or private key, null to leave it as it is; host_key: that the
    server shows and the user confirmed."""

    id: int = Field(default=0, ge=0)
    name: str = Field(min_length=1, max_length=60)
    kind: Literal["folder", "sftp", "git"]
    address: str = Field(min_length=1, max_length=500, pattern=r"^[^\s\x00-\x1f]+$")
    account: str = Field(default="", max_length=200)
    secret: str | None = Field(default=None, max_length=20_000)
    host_key: str = Field(default="", max_length=5000)
    branch: str = Field(default="", max_length=100, pattern=r"^(?:[A-Za-z0-9][A-Za-z0-9._/-]*)?$")


class HostKeyResponse(ResponseModel):
    """The key that a server shows now, "" for what has none."""

    host_key: str
    fingerprint: str


class PublishRequest(RequestModel):
    """folder: below the host's address; replace: also over files that were not published from here."""

    host_id: int
    folder: str = Field(default="", max_length=300)
    replace: bool = False
    by: str = Field(default="", max_length=60)


class PublicationsResponse(ResponseModel):
    """publications: the latest of a business, the newest first; folder: proposed for it; held_back: pictures without consent that
    are left out."""

    hosts: list[HostResponse]
    publications: list[Publication]
    folder: str
    held_back: int
