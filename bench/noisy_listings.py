"""Listings with known doubles for measuring the matcher: easy and hard noise. Shares no code with the demo's world.

Easy is what directories do every day: typing slips, abbreviations, a field missing, a pin a few metres off. Hard adds
what fools a matcher whose fields are taken to be independent: offices and phones shared by unlike firms, branches of
one firm in one town, central phones, trading names, old phones and old addresses.
"""

import random
from dataclasses import dataclass

SYLLABLES = """bar bel bor cal cor dan del dor fal fen gar gel hal har hel jor kal kel lan lor mar mel mor nal nor pal per ral ren
sal sor tal tel tor val ven wal wen yar zel""".split()
ENDINGS = "ton ley wick by ford man son well worth ham er ow ard in es".split()
CRAFTS: dict[str, tuple[str, ...]] = {
    "plumber": ("Plumbing", "Plumbers", "Plumbing Services"), "electrician": ("Electrical", "Electricians", "Electrical Services"),
    "baker": ("Bakery", "Bakers", "Bread"), "dentist": ("Dental", "Dental Clinic", "Dentists"),
    "hairdresser": ("Hair", "Hair Studio", "Hairdressers"), "accountant": ("Accounting", "Accountants", "Tax & Accounting"),
    "carpenter": ("Joinery", "Carpentry", "Carpenters"), "butcher": ("Butchers", "Meats", "Butchery"),
    "roofer": ("Roofing", "Roofers", "Roof Services"), "gardener": ("Gardens", "Landscaping", "Garden Services"),
    "lawyer": ("Legal", "Lawyers", "Solicitors"), "cafe": ("Cafe", "Coffee House", "Coffee"),
}  # fmt: skip
WAYS = (("Street", "St"), ("Road", "Rd"), ("Avenue", "Ave"), ("Lane", "Ln"), ("Drive", "Dr"), ("Court", "Ct"))
SOURCES = ("north", "south", "east")
REACH = (0.75, 0.6, 0.45)
TOWNS = 80
KM_NORTH, KM_EAST = 1 / 111.0, 1 / 88.0


@dataclass(frozen=True, slots=True)
class Noise:
    """How often each thing happens, as shares of listings (of firms for `office`, `branch`, `trading`)."""

    typo: float
    no_phone: float
    no_site: float
    no_pin: float
    no_number: float
    pin_km: float
    old_phone: float = 0.0
    old_address: float = 0.0
    office: float = 0.0
    branch: float = 0.0
    trading: float = 0.0
    double: float = 0.04


EASY = Noise(typo=0.10, no_phone=0.10, no_site=0.4, no_pin=0.1, no_number=0.03, pin_km=0.02)
HARD = Noise(
    typo=0.22, no_phone=0.22, no_site=0.55, no_pin=0.3, no_number=0.1, pin_km=0.06, old_phone=0.06, old_address=0.03,
    office=0.10, branch=0.12, trading=0.07,
)  # fmt: skip


@dataclass(slots=True)
class _Firm:
    name: str
    craft: str
    town: int
    street: str
    way: int
    number: int
    lat: float
    lon: float
    phone: str
    site: str


class _Maker:
    def __init__(self, seed: int, noise: Noise) -> None:
        self.rng = random.Random(seed)
        self.noise = noise
        self.towns = [(self._word(), self.rng.uniform(-38, -30), self.rng.uniform(140, 150)) for _ in range(TOWNS)]
        self.streets = [self._word() for _ in range(400)]
        self.serial = 0
        self.phones = 0

    def _word(self) -> str:
        rng = self.rng
        return (rng.choice(SYLLABLES) + rng.choice(("", rng.choice(SYLLABLES))) + rng.choice(ENDINGS)).capitalize()

    def _phone(self) -> str:
        """A number reserved for fiction: (02|03|07|08) 5550 xxxx and 7010 xxxx, all 80,000 of them before one comes again."""
        at = self.phones * 7919 % 80_000
        self.phones += 1
        return f"0{'2378'[at // 20_000]}{('5550', '7010')[at // 10_000 % 2]}{at % 10_000:04d}"

    def name(self, craft: str, town: int) -> str:
        rng = self.rng
        noun = rng.choice(CRAFTS[craft])
        return rng.choice(
            (f"{self._word()} {noun}", f"{self._word()} & {self._word()} {noun}", f"{self.towns[town][0]} {noun}",
             f"{self._word()} {rng.choice(('Bros', 'Group', 'Family'))} {noun}", f"{self._word()}'s {noun}")
        )  # fmt: skip

    def firm(self) -> _Firm:
        rng = self.rng
        craft, town = rng.choice(list(CRAFTS)), rng.randrange(TOWNS)
        name, (_, lat, lon) = self.name(craft, town), self.towns[town]
        self.serial += 1
        site = "".join(c for c in name.lower() if c.isalnum())[:20] + f"{self.serial}.example"
        return _Firm(
            name, craft, town, rng.choice(self.streets), rng.randrange(len(WAYS)), rng.randint(1, 250),
            lat + rng.gauss(0, 1.5) * KM_NORTH, lon + rng.gauss(0, 1.5) * KM_EAST, self._phone(), site,
        )  # fmt: skip

    def family(self) -> list[_Firm]:
        """One firm; or an office of unlike firms; or a chain's branches in one town."""
        rng, roll, first = self.rng, self.rng.random(), self.firm()
        found = [first]
        if roll < self.noise.office / 2.5:
            for _ in range(rng.choice((1, 1, 2, 3))):
                other = self.firm()
                if rng.random() < 0.15:
                    other.craft = first.craft
                    other.name = self.name(first.craft, first.town)
                other.town, other.street, other.way, other.number = first.town, first.street, first.way, first.number
                other.lat, other.lon = first.lat, first.lon
                if rng.random() < 0.7:
                    other.phone = first.phone
                found.append(other)
        elif roll < self.noise.office / 2.5 + self.noise.branch / 2.5:
            central = rng.random() < 0.3
            for _ in range(rng.choice((1, 1, 2))):
                other = self.firm()
                other.name, other.craft, other.town, other.site = first.name, first.craft, first.town, first.site
                other.lat, other.lon = (c + rng.gauss(0, 2.0) * KM_NORTH for c in (first.lat, first.lon))
                if central:
                    other.phone = first.phone
                found.append(other)
        return found

    def slip(self, text: str) -> str:
        """One typing slip: a letter dropped, doubled, swapped or wrong."""
        if len(text) < 5:
            return text
        at = self.rng.randrange(1, len(text) - 1)
        return self.rng.choice(
            (text[:at] + text[at + 1 :], text[:at] + text[at] + text[at:],
             text[: at - 1] + text[at] + text[at - 1] + text[at + 1 :], text[:at] + self.rng.choice("aeiourst") + text[at + 1 :])
        )  # fmt: skip

    def result(self, firm: _Firm, source: str, alias: str) -> dict[str, str]:
        """The firm as one source writes it down."""
        rng, noise = self.rng, self.noise
        name = alias or firm.name
        name = rng.choice((name, name, name.replace("&", "and"), name + " Pty Ltd", name.upper(), "The " + name))
        if rng.random() < noise.typo:
            name = self.slip(name)
        long, short = WAYS[firm.way]
        number, street = firm.number, firm.street
        if rng.random() < noise.old_address:
            number, street = rng.randint(1, 250), rng.choice(self.streets)
        way = rng.choice((long, short, short + "."))
        unit = f"Unit {rng.randint(1, 20)}, " if rng.random() < 0.08 else ""
        address = f"{street} {way}" if rng.random() < noise.no_number else f"{unit}{number} {street} {way}"
        if rng.random() < noise.typo / 2:
            address = self.slip(address)
        digits = self._phone() if rng.random() < noise.old_phone else firm.phone
        phone = rng.choice(
            (f"({digits[:2]}) {digits[2:6]} {digits[6:]}", digits, f"+61 {digits[1]} {digits[2:6]} {digits[6:]}")
        )
        self.serial += 1
        pin = rng.random() >= noise.no_pin
        sites = (f"https://www.{firm.site}/", f"http://{firm.site}", firm.site)
        return {
            "id": f"{source[0]}{self.serial}", "source": source, "name": name,
            "category": firm.craft if rng.random() < 0.85 else "",
            "street": address, "town": self.towns[firm.town][0], "postcode": f"{3000 + firm.town}",
            "phone": "" if rng.random() < noise.no_phone else phone,
            "website": "" if rng.random() < noise.no_site else rng.choice(sites),
            "lat": f"{firm.lat + rng.gauss(0, noise.pin_km) * KM_NORTH:.6f}" if pin else "",
            "lon": f"{firm.lon + rng.gauss(0, noise.pin_km) * KM_EAST:.6f}" if pin else "",
        }  # fmt: skip


def noisy_listings(count: int, noise: Noise, seed: int = 1) -> tuple[list[dict[str, str]], list[int]]:
    """Return (`count` listings in random order, for each the number of the firm that it is about)."""
    maker = _Maker(seed, noise)
    rng = maker.rng
    rows: list[tuple[dict[str, str], int]] = []
    firm_number = 0
    while len(rows) < count:
        for firm in maker.family():
            firm_number += 1
            trading = maker.name(firm.craft, firm.town) if rng.random() < noise.trading else ""
            for source, reach in zip(SOURCES, REACH, strict=True):
                for _ in range(int(rng.random() < reach) * (1 + (rng.random() < noise.double))):
                    alias = trading if trading and rng.random() < 0.5 else ""
                    rows.append((maker.result(firm, source, alias), firm_number))
    rows = rows[:count]
    rng.shuffle(rows)
    return [row for row, _ in rows], [number for _, number in rows]
