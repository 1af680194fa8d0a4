"""The rows of a mail-merge file: who can be written to, and why others cannot."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from openacorn.core.audit.verification import VerificationResult
from openacorn.core.export.format import Column
from openacorn.core.score.reach import CHANCE, email_kind

COLUMNS = (
    Column("email", "email"), Column("first_name", "first_name"), Column("last_name", "last_name"),
    Column("business", "business"), Column("trade", "trade"), Column("town", "town"), Column("line", "opening_line"),
    Column("offer", "offer"), Column("page", "page"), Column("reason", "left_out_because"),
)  # fmt: skip
"""Columns of the file; headings as mailers like them: no spaces."""


@dataclass(frozen=True, slots=True)
class Letter:
    """One business in a mailing. reason: why it is left out, "" if it is written to; page: its owner's page, "" if none."""

    id: int
    business: str
    trade: str
    town: str
    email: str = ""
    first_name: str = ""
    last_name: str = ""
    line: str = ""
    offer: str = ""
    page: str = ""
    reason: str = ""

    def cells(self) -> tuple[str, ...]:
        """The row, as COLUMNS have it."""
        return tuple(str(getattr(self, column.id)) for column in COLUMNS)


def best_address(addresses: Iterable[str], results: Mapping[str, VerificationResult]) -> tuple[str, str]:
    """(the verified address likeliest to be read, "") or ("", why there is none). results: address → what verifying said."""
    known = list(dict.fromkeys(addresses))
    verified = [address for address in known if results.get(address) is VerificationResult.VALID]
    if verified:
        return max(verified, key=lambda address: CHANCE[email_kind(address, verified=True)]), ""
    if not known:
        return "", "no e-mail found"
    if all(results.get(address) is VerificationResult.DEAD for address in known):
        return "", f"its address is dead: {known[0]}"
    return "", f"its address is not verified: {next(a for a in known if results.get(a) is not VerificationResult.DEAD)}"


def once_each(letters: Sequence[Letter]) -> list[Letter]:
    """Nobody gets two: of several businesses with one address the first is written to."""
    first: dict[str, str] = {}
    result = []
    for letter in letters:
        key = letter.email.lower()
        if not letter.reason and key in first:
            result.append(replace(letter, reason=f"the same address as {first[key]}"))
            continue
        if not letter.reason:
            first[key] = letter.business
        result.append(letter)
    return result
