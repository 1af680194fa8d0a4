"""Phone numbers out of a page: not dates, prices or identifiers."""

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from functools import cache, lru_cache
from typing import Any

import phonenumbers
import re2

from openacorn.core.audit.evidence import Found
from openacorn.core.audit.extract.phone_numbers import parse_phone
from openacorn.core.audit.extract.vocabulary import words_of

_LETTER = "0-9A-Za-z\u00c0-\u024f\u0370-\u052f_"
"""Letters that a number does not stand right beside; scripts without spaces may."""

CANDIDATE = re.compile(
    rf"(?<![{_LETTER}.,/\-#=@])(?:\+\s?|\(\+?|00)?\d"
    r"[\d\s().\u00a0\u2009\u2010-\u2015\u2212\u30fc/·-]{4,44}"
    rf"\d(?![{_LETTER}@%])"
)
DIGITS_ENOUGH = re.compile(r"\d(?:\D{0,4}\d){5}")
TWO_NUMBERS = re.compile(r"\s+[/\u2013\u2014|-]\s+|\s*/\s*(?=\(?0\d)")
"""What stands between two numbers written one after the other."""

DATE = re.compile(
    r"^\(?(?:\d{1,2}\s?[./\-\u2013]\s?\d{1,2}\s?[./\-\u2013]\s?(?:(?:19|20)\d{2}|\d{2})"
    r"|(?:19|20)\d{2}\s?[./\-\u2013]\s?\d{1,2}\s?[./\-\u2013]\s?\d{1,2})(?!\d|\s?[./\-\u2013]\s?\d)"
)
MIN_DIGITS, MAX_DIGITS = 6, 15
"""National numbers under 6 digits are short codes; E.164 allows 15."""

MAX_GROUPS = 8
BEFORE, AFTER = 28, 14
"""Characters around a number that say what it is."""

YEARS = re.compile(r"^\(?(?:19|20)\d{2}\)?(?:[\s./\-\u2013,]+(?:19|20)?\d{2})*\)?$")
YEAR_SPAN = re.compile(r"(?<!\d)(?:19|20)\d{2}\s?[-\u2013/]\s?(?:19|20)\d{2}(?!\d)")
AMOUNT = re.compile(r"^\d{1,3}(?:([.,])\d{3})(?:\1\d{3})*$")
MONEY = re.compile(
    r"[$€£¥₽₴₺₩₹฿¢]|\b(?:USD|EUR|GBP|AUD|CHF|SEK|NOK|DKK|PLN|CZK|HUF|RUB|руб|грн|Kč|Ft|zł|kr|TL|px|km|kg|mb|gb|ml|sq|m²)\b",
    re.I,
)
CALLED_OTHERWISE = (
    "vat abn acn arbn tax id ids order iban bic swift isbn isbn-10 isbn-13 issn ean upc gtin sku asin ustid ust-id "
    "ustidnr ust-idnr uid hrb hra steuernummer steuer-nr finanzamt registernummer handelsregister ico ičo ič dic dič nip "
    "regon krs siret siren rcs ape naf tva p.iva iva fisc fiscale p.i c.f cif nif nipc cnpj cpf rut rfc инн кпп огрн окпо "
    "бик р/с к/с счет счёт єдрпоу konto kontonummer kto blz account acct invoice ref reference case ticket version ver "
    "model part serial s/n artnr art.-nr article item product lot patent lic licence license reg registration registered "
    "company cvr orgnr org.nr y-tunnus kvk btw bus business charity permit lat lon long latitude longitude copyright zip "
    "postcode plz psč no nr num number isin wkn doi pmid arxiv build rev size code uin icq steam thread post posts views "
    "hits page pages msg adószám cégjegyzékszám bankszámla bankszámlaszám účet conto cuenta compte hesap vergi mersis icp "
    "bond gid uuid pin score result results"
).split()
"""Words after which a number is anything but a phone's (own knowledge)."""

_OTHERWISE = "|".join(sorted(map(re.escape, CALLED_OTHERWISE), key=len, reverse=True))
NOT_BEFORE = re.compile(
    rf"(?:\b(?:{_OTHERWISE})|\w{{3,}}(?:nummer|nr|number|numéro|číslo)\b"
    r"|©|#|№|登録番号|法人番号|사업자\S*|등록번호|통신판매\S*|登记|备案|注册号|許可証|번호)"
    r"[\s:.\-–#°º)]*(?:(?:no|nr|num|number|nummer)\.?[\s:]*)?$",
    re.I,
)
FAX = re.compile(
    r"(?:\bfax|telefax|факс|faks|faksi|télécopie|ファックス|传真|傳真|팩스|فاكس|ｆａｘ|φαξ)[\w.\s:()/+-]{0,12}$", re.I
)
SYMBOLS = "☎☏✆📞📱🕻"
LABELLED = re.compile(r"\s*(?:[^\W\d_][^:\d]{0,24}[:.]?\s*)?")
"""A label before a number: a word or some."""

UNSAID_DIGITS = 7
"""Shorter numbers with no phone's word before them count something (common practice: a forum's "501 341 posts")."""

AREA_CODE = re.compile(r"\(0?\d{1,5}\)\s*$")
"""What a number in the next piece of the text goes on from."""

MARKED = re.compile(r"[A-Z]{2}\d{2}\s?$")
_DIGIT_FORMS = str.maketrans("０１２３４５６７８９（）－＋", "0123456789()-+")
_OTHER_DIGITS = re.compile("[０-９（）－＋]")


def is_national(raw: str) -> bool:
    """Return whether a number is written without its country's code, so that only its country makes it a number."""
    text = raw.strip()
    return sum(char.isdigit() for char in text) >= MIN_DIGITS and parse_phone(text, None) is None


@cache
def _word_before() -> Any:
    """A pattern (RE2) for a phone's word at the end of a text; a single letter counts only with a mark behind it."""
    words = words_of("phone")
    longer = "|".join(sorted((re.escape(word) for word in words if len(word) > 2), key=len, reverse=True))
    short = "|".join(re.escape(word) for word in words if len(word) <= 2)
    return re2.compile(
        rf"(?i)(?:(?:^|[^\pL])(?:(?:{longer})(?:nummern?|nr|numbers?)?(?:[^\pL\d][^\d]{{0,16}})?|(?:{short})\s?[:.)\-–]\s*)|[{SYMBOLS}]\s*)$"
    )


def _digits(raw: str) -> str:
    return "".join(char for char in raw if char.isdigit())


@dataclass(frozen=True, slots=True)
class _Candidate:
    """A run of digits and marks, with what stands before and after it."""

    raw: str
    before: str
    after: str
    alone: bool = False  # does nothing else stand in its piece of the text, but for a label?

    @property
    def named(self) -> bool:
        """Does a phone's word stand before it?"""
        return bool(_word_before().search(self.before))

    @property
    def international(self) -> bool:
        return self.raw.lstrip("(").startswith(("+", "00"))

    @property
    def trunk(self) -> bool:
        """Does it begin as numbers are dialled within a country: with a nought or an area code in brackets?"""
        return self.raw[0] in "0("

    def is_something_else(self) -> bool:
        """A date, years, a price, a row of short numbers, or what a word before it calls otherwise."""
        raw = self.raw.strip()
        groups = [_digits(group) for group in re.split(r"[^\d]+", raw) if group]
        if self.international:
            return False
        if DATE.search(raw) or YEARS.match(raw) or YEAR_SPAN.search(raw):
            return True
        if (NOT_BEFORE.search(self.before) and not self.named) or MARKED.search(self.before):
            return True
        if self.named:
            return False
        if MONEY.search(self.before[-6:]) or MONEY.search(self.after[:6]) or (self.after and self.after[0] in "%:°'\""):
            return True
        if raw.count("/") > 1 and not self.trunk:
            return True
        if sum(len(group) == 1 for group in groups) > 2 or (AMOUNT.match(raw) and not raw.startswith("0")):
            return True
        return len(groups) > MAX_GROUPS


def _candidates(text: str) -> Iterator[_Candidate]:
    for match in CANDIDATE.finditer(text):
        parts = TWO_NUMBERS.split(match.group(0))
        if not all(len(_digits(part)) > MIN_DIGITS for part in parts):
            parts = [match.group(0)]
        before = text[max(0, match.start() - BEFORE) : match.start()]  # what is said before the first is said of all
        end = match.start()
        for part in parts:
            start = text.index(part, end)
            end = start + len(part)
            if len(_digits(part)) >= MIN_DIGITS:
                alone = LABELLED.fullmatch(text[:start]) is not None and not text[end:].strip(" .,;|")
                yield _Candidate(part.strip(), before, text[end : end + AFTER], alone)


@lru_cache(maxsize=8192)
def _grouped_as_usual(raw: str, e164: str) -> bool:
    """Are the digits grouped as the number's own country groups them?"""
    number = phonenumbers.parse(e164, None)
    usual = phonenumbers.format_number(number, phonenumbers.PhoneNumberFormat.NATIONAL)
    return [g for g in re.split(r"\D+", raw) if g] == [g for g in re.split(r"\D+", usual) if g]


def _read(found: _Candidate, region: str | None) -> str | None:
    """The number that a candidate is, None if it is none or may be none."""
    raw = found.raw
    if raw.startswith("00") and (number := parse_phone("+" + raw[2:], None)):
        return number
    number = parse_phone(raw, region) if found.international or len(_digits(raw)) <= MAX_DIGITS else None
    said = found.named or found.trunk or found.international
    if number and not said and len(_digits(raw)) >= UNSAID_DIGITS:
        said = (found.alone and len(re.split(r"\D+", raw)) > 1) or _grouped_as_usual(raw, number)
    if number and said:
        return number
    return _beginning(found, region) if found.named or found.trunk or found.international else None


def _beginning(found: _Candidate, region: str | None) -> str | None:
    """The number that a candidate begins with: digits of a neighbouring text may have run into it."""
    groups = found.raw.split()
    if len(groups) > MAX_GROUPS + 4:
        return None
    for length in range(len(groups) - 1, 0, -1):
        part = " ".join(groups[:length])
        if len(_digits(part)) >= MIN_DIGITS and (number := parse_phone(part, region)):
            return number
    return None


def _may_be_one(found: _Candidate) -> bool:
    """Does what cannot be read look like a phone number all the same?"""
    count = len(_digits(found.raw))
    return (7 <= count <= MAX_DIGITS and (found.named or found.trunk or found.international)) or (
        found.named and count >= MIN_DIGITS
    )


def find_phones(text: str, links: Iterable[str], region: str | None) -> tuple[tuple[Found, ...], tuple[str, ...]]:
    """Return (valid numbers as E.164, faxes last, and what looks like a number and cannot be read).

    text: visible text, its pieces parted by line ends. links: targets of `tel:`. Candidates are cut out first and only
    then parsed: the library's own text matcher takes a hundred times longer on pages full of digits.
    """
    seen: dict[str, Found] = {}
    unread: list[str] = []
    faxes: dict[str, Found] = {}
    for link in links:
        e164 = parse_phone(link, region)
        if e164:
            seen.setdefault(e164, Found(e164, f"tel:{link}", "link"))
        elif len(_digits(link)) >= MIN_DIGITS:
            unread.append(link)
    for found in _everywhere(text):
        if found.is_something_else():
            continue
        e164 = _read(found, region)
        fax = bool(FAX.search(found.before))
        if e164:
            words = " ".join(f"{found.before}{found.raw}{found.after}".split())
            (faxes if fax else seen).setdefault(e164, Found(e164, words, "fax" if fax else "text"))
        elif _may_be_one(found):
            unread.append(found.raw)
    seen |= {number: fax for number, fax in faxes.items() if number not in seen}
    return tuple(seen.values()), tuple(dict.fromkeys(unread))[:10]


def _everywhere(text: str) -> Iterator[_Candidate]:
    """Candidates in each piece of the text with the words before it, then those that only the pieces put together make."""
    text = text.translate(_DIGIT_FORMS) if _OTHER_DIGITS.search(text) else text
    before, parted_code = "", False
    alone = set()
    for line in text.splitlines():
        if DIGITS_ENOUGH.search(line):
            for found in _candidates(line):
                room = BEFORE - len(found.before)
                words = (before[-room:] + " " if room > 0 else "") + found.before
                if AREA_CODE.search(
                    words
                ):  # its beginning stands in the piece before: put together they make the number
                    parted_code = True
                    continue
                alone.add(_digits(found.raw))
                yield replace(found, before=words)
        if line.strip():
            before = line.strip()
    if "\n" in text.strip():
        for found in _candidates(" ".join(text.split())):
            if _digits(found.raw) not in alone and (found.named or (parted_code and found.raw.startswith("("))):
                yield found


def dialled(e164: str, region: str | None) -> str:
    """Return a number as somebody in `region` dials it: "(03) 5550 1234" at home, "+61 3 5550 1234" from elsewhere."""
    try:
        number = phonenumbers.parse(e164, region)
    except phonenumbers.NumberParseException:
        return e164
    at_home = region is not None and phonenumbers.country_code_for_region(region) == number.country_code
    form = phonenumbers.PhoneNumberFormat.NATIONAL if at_home else phonenumbers.PhoneNumberFormat.INTERNATIONAL
    return phonenumbers.format_number(number, form)
