"""The themes that a new website can be drawn in, and which of them fit a trade."""

import json
import re
from dataclasses import dataclass
from functools import cache
from importlib import resources


@dataclass(frozen=True, slots=True)
class Theme:
    """A look. fits: families of trades; hue: of its colours where no picture gives one (0…1); hero: how the top of the first page
    is laid out; mark: the pattern where there is no picture; colours: the set (colours.SETS) that it is drawn in at first."""

    id: str
    title: str
    about: str
    fits: tuple[str, ...]
    hue: float
    hero: str
    mark: str
    colours: str = "light"


FAMILIES: dict[str, str] = {
    "food": r"restaurant|cafe|café|bakery|baker|bar\b|pub|food|pizza|catering|ice cream|butcher|takeaway|bistro|kitchen|brewery",
    "practice": r"vet|dentist|doctor|clinic|physio|optic|medical|therap|psycholog|chiropract|osteopath|podiatr|midwi|pharmac"
    r"|hospital",
    "boats": r"boat|marine|yacht|sail|harbour|ship|chandler|dive|surf",
    "lodging": r"hotel|guest|hostel|motel|camp|lodging|holiday|apartment|bed and breakfast",
    "road": r"plumb|electric|clean|roof|removal|locksmith|pest|gas|heating|window|gardener|landscap|courier|taxi|handyman|painter"
    r"|scaffold|hvac|chimney|solar",
    "workshop": r"repair|garage|mechanic|car\b|cars\b|tyre|bicycle|carpent|joiner|weld|metal|glazier|tailor|shoe|watch|upholster"
    r"|stonemason|craft|builder|construct",
    "classes": r"school|class|course|yoga|fitness|gym|sport|dance|music|driving|tutor|kindergarten|child",
    "studio": r"photograph|design|architect|hair|beauty|barber|tattoo|nail|salon|spa|massage|art|florist|flower",
    "desk": r"lawyer|solicitor|attorney|notary|account|tax|insur|estate|consult|financ|bank|office|agency|engineer|surveyor|it\b"
    r"|software",
    "shop": r"shop|store|retail|market|books|furniture|jewel|clothes|toy|pet|hardware|wine|grocer|supermarket|kiosk|antique|gift",
}
"""Family → words in the name or id of a trade that belongs to it; the first that fits."""


def family_of(trade: str) -> str:
    """The family of a trade, by its id and name; "shop" for one that fits none."""
    words = trade.lower().replace("_", " ").replace("/", " ")
    return next((name for name, pattern in FAMILIES.items() if re.search(rf"\b(?:{pattern})", words)), "shop")


@cache
def all_themes() -> tuple[Theme, ...]:
    """Every theme that ships."""
    found = json.loads(resources.files(__package__).joinpath("themes.json").read_text("utf-8"))
    return tuple(Theme(**{**item, "fits": tuple(item["fits"])}) for item in found)


def theme_of(name: str) -> Theme:
    """A theme by its id, the first if there is none of that id."""
    return next((theme for theme in all_themes() if theme.id == name), all_themes()[0])


def themes_for(family: str) -> tuple[Theme, ...]:
    """All themes, those that fit a family first."""
    return tuple(sorted(all_themes(), key=lambda theme: family not in theme.fits))


@cache
def stylesheet(name: str) -> str:
    """The rules of a theme behind those that all share."""
    folder = resources.files(__package__).joinpath("styles")
    return "".join(folder.joinpath(f"{part}.css").read_text("utf-8") for part in ("base", name))
