"""Owners' languages."""

from typing import Annotated

from pydantic import StringConstraints

from openacorn.api.schemas import RequestModel, ResponseModel
from openacorn.core.languages.catalogue import LANGUAGES

LanguageCode = Annotated[str, StringConstraints(pattern=f"^({'|'.join(LANGUAGES)})?$")]
"""ISO 639-1 code of a language that owners can be written to in, "" for whatever is known of a business."""


class Language(ResponseModel):
    """A language that owners can be written to in. code: ISO 639-1."""

    code: str
    name: str


class LanguageRequest(RequestModel):
    """A language set by hand; "" takes it back."""

    language: LanguageCode = ""


class LanguageChoice(ResponseModel):
    """A business's language. by_hand: as set for it, "" if it was not; because: what it was chosen by."""

    language: str
    name: str
    by_hand: str
    because: str
