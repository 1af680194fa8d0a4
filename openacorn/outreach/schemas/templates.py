"""Message templates."""

from pydantic import Field

from openacorn.api.schemas import Id, RequestModel, ResponseModel
from openacorn.core.outreach.message_check import Remark
from openacorn.core.outreach.message_kind import MessageKind
from openacorn.core.outreach.message_template import LONGEST, Sentence
from openacorn.outreach.schemas.languages import LanguageCode
from openacorn.outreach.store.templates import TemplateVersion


class Slot(ResponseModel):
    """A fact that a template can ask for."""

    name: str
    meaning: str


class TemplatesResponse(ResponseModel):
    """templates: all that are offered; slots: the facts that they may use."""

    templates: list[TemplateVersion]
    slots: list[Slot]


class TemplateRequest(RequestModel):
    """A template to save; id "": a new one. variant: which of several that are tried against one another;
    language: that it is written in."""

    id: str = Field(default="", max_length=200)
    kind: MessageKind
    name: str = Field(min_length=1, max_length=80)
    service: str = Field(default="", max_length=80)
    variant: str = Field(default="", max_length=20)
    subject: str = Field(default="", max_length=200)
    text: str = Field(min_length=1, max_length=LONGEST)
    language: LanguageCode = "en"
    by: str = Field(default="", max_length=60)


class TemplatePreviewRequest(TemplateRequest):
    """A template to be filled in for a business."""

    business_id: Id


class TemplateFitRequest(TemplateRequest):
    """A template to be tried on a shortlist."""

    shortlist: Id


class FittingBusiness(ResponseModel):
    """A business that a template can be filled in for."""

    id: int
    name: str


class LeftOut(ResponseModel):
    """Why businesses are left out, and how many for that reason."""

    reason: str
    count: int


class TemplateFitResponse(ResponseModel):
    """Who of the first `tried` of a list gets a template, the most valuable first; why others do not; members: all on it."""

    fitting: list[FittingBusiness]
    left_out: list[LeftOut]
    tried: int
    members: int


class TemplatePreview(ResponseModel):
    """What a business would get. left_out: why it would get nothing, "" if it would; length: as its carrier counts it; remarks:
    what to think about before it leaves; language: that it is in (ISO 639-1)."""

    subject: str
    sentences: list[Sentence]
    text: str
    left_out: str
    length: str
    remarks: list[Remark]
    language: str = "en"
