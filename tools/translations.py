"""Gather every sentence for owners and bring the catalogues up to date: `python tools/translations.py`.

New sentences are added untranslated, old translations of sentences that are gone are dropped. With a language and a file of lines
"English<TAB>translation" these are put in: `python tools/translations.py de lines.tsv` (\\n stands for a line end; singular and
plural are parted by " || ").
"""

import ast
import sys
from collections.abc import Iterator
from io import BytesIO
from pathlib import Path

from babel.messages.catalog import Catalog
from babel.messages.extract import extract
from babel.messages.pofile import read_po, write_po

from openacorn.core.audit.check import all_checks
from openacorn.core.audit.evidence import Failure, TlsProblem
from openacorn.core.desk.angle import shipped_angles
from openacorn.core.languages.catalogue import ENGLISH, LANGUAGES
from openacorn.core.outreach.message_kind import MessageKind
from openacorn.core.outreach.template_language import paragraphs
from openacorn.core.report.origins import FIELDS, KINDS, OWN_LIST
from openacorn.core.report.owners_page import PLAIN
from openacorn.core.score.service import all_services
from openacorn.core.starter.draft import PAGES
from openacorn.core.starter.outline import ASKS, NOTICE, USUAL
from openacorn.outreach.template_library import shipped_templates

ROOT = Path(__file__).parents[1] / "openacorn"
FOLDER = ROOT / "core/languages"
WORDS = {"text": None, "say": None, "_": None, "count": (1, 2), "ngettext": (1, 2), "gettext": None}
"""Functions whose first argument is a sentence; the second one its plural."""

TEMPLATES = (
    "report/templates/owners_page.html",
    "report/templates/notice.html",
    "report/templates/origins.html",
    "report/templates/proposal.html",
    "starter/templates/page.html",
    "starter/templates/parts.html",
)
SAID_BY_CODE = (
    "core/report/origins.py",
    "core/starter/outline.py",
    "core/report/page_sentences.py",
    "core/outreach/compose.py",
    "outreach/message_facts.py",
    "outreach/pitch.py",
)
NOTICES = ("outreach/public_proposals.py", "outreach/public.py", "outreach/public_stop.py", "outreach/replies.py")
"""Modules whose sentences with a capital and a full stop, or handed to `notice_page`, are shown to owners."""

SEEN = {"text", "reason", "lost", "busy", "why", "fault"}
"""Names under which checks keep the reason of a finding."""

Sentence = str | tuple[str, str]


def _from_templates() -> Iterator[Sentence]:
    for file in TEMPLATES:
        body = (ROOT / "core" / file).read_bytes()
        for _, found, *_ in extract("jinja2.ext:babel_extract", BytesIO(body), WORDS, options={"trimmed": "true"}):
            yield found if isinstance(found, str) else (found[0], found[1])


def _from_code() -> Iterator[Sentence]:
    for file in SAID_BY_CODE:
        for _, found, *_ in extract("python", BytesIO((ROOT / file).read_bytes()), WORDS):
            yield found if isinstance(found, str) else (found[0], found[1])


def _from_starter_sites() -> Iterator[Sentence]:
    yield from PAGES.values()
    yield from ASKS.values()
    yield from NOTICE
    for title, question in USUAL.values():
        yield from (title, question)


def _from_notices() -> Iterator[Sentence]:
    for file in NOTICES:
        for node in ast.walk(ast.parse((ROOT / file).read_text(encoding="utf-8"))):
            if isinstance(node, ast.Assign | ast.Call | ast.Dict):
                inner = (
                    node.args
                    if isinstance(node, ast.Call)
                    else node.values
                    if isinstance(node, ast.Dict)
                    else [node.value]
                )
                flat = [part for item in inner for part in (item.elts if isinstance(item, ast.Tuple) else [item])]
                for part in flat:
                    if isinstance(part, ast.Constant) and isinstance(part.value, str) and _is_notice(part.value):
                        yield part.value


def _is_notice(text: str) -> bool:
    return text[:1].isupper() and " " in text and "\n" not in text and not text.startswith("Open Acorn")


def _shape(node: ast.expr) -> Iterator[str]:
    """A string as it is written, with {0} {1} … for what is put in."""
    match node:
        case ast.BoolOp(values=values):
            for value in values:
                yield from _shape(value)
        case ast.Constant(value=str(text)):
            yield text
        case ast.JoinedStr(values=parts):
            number, made = 0, ""
            for part in parts:
                if isinstance(part, ast.Constant):
                    made += str(part.value)
                else:
                    made, number = f"{made}{{{number}}}", number + 1
            yield made
        case ast.IfExp(body=one, orelse=other):
            yield from _shape(one)
            yield from _shape(other)
        case ast.Dict(values=values):
            for value in values:
                yield from _shape(value)


def _reasons(tree: ast.AST) -> Iterator[str]:
    for node in ast.walk(tree):
        match node:
            case ast.Call(func=ast.Name(id="gap" | "partial" | "nowhere" | "no_tag"), args=[_, reason, *_]):
                yield from _shape(reason)
            case ast.Call(func=ast.Name(id="unknown"), args=[reason, *_]):
                yield from _shape(reason)
            case ast.Assign(targets=[ast.Name(id=name)], value=value) if name in SEEN or name.isupper():
                yield from _shape(value)
            case ast.Assign(targets=[ast.Attribute(attr="cut_short")], value=value):
                yield from _shape(value)
            case ast.Call(func=ast.Name(id="Absent"), args=[reason]):
                yield from _shape(reason)
            case ast.keyword(arg="fault" | "reason" | "failed", value=value):
                yield from _shape(value)


def _from_checks() -> Iterator[str]:
    told = {check.evaluate.__module__.rpartition(".")[2] for check in all_checks() if check.owner}
    files = [ROOT / f"core/audit/checks/{name}.py" for name in sorted(told)]
    files += [
        ROOT / f"core/audit/{name}.py" for name in ("readable", "tag_evidence", "mail_records", "assemble", "reconcile")
    ]
    files += [
        ROOT / name
        for name in ("audit/reputation.py", "net/probes/domains.py", "net/probes/browser.py", "net/probes/site.py")
    ]
    yield "a check of ours failed"
    for file in files:
        yield from (text for text in _reasons(ast.parse(file.read_text(encoding="utf-8"))) if " " in text)
    yield from map(str, (*Failure, *TlsProblem))
    for check in all_checks():
        if check.owner:
            yield from (check.owner.topic, check.owner.claim, check.owner.partly, check.owner.remedy, check.why)


def _from_shipped() -> Iterator[str]:
    for service in all_services():
        yield service.title
    for angle in shipped_angles():
        yield angle.line
    order = list(MessageKind)
    for template in sorted(shipped_templates().values(), key=lambda item: order.index(item.kind)):
        yield from paragraphs(template)


def sentences() -> list[Sentence]:
    """Every sentence that owners may read, each once, in a steady order."""
    everything = (
        *PLAIN.values(),
        *FIELDS.values(),
        *KINDS.values(),
        OWN_LIST,
        *_from_templates(),
        *_from_code(),
        *_from_notices(),
        *_from_starter_sites(),
        *_from_checks(),
        *_from_shipped(),
    )
    return [text for text in dict.fromkeys(everything) if text]


def _forms(said: str, count: int) -> tuple[str, ...]:
    """Singular and plural, the plural also for what further forms a language has (that of millions)."""
    forms = [part.strip() for part in said.split(" || ")]
    return tuple((forms + [forms[-1]] * count)[:count])


def update(language: str, added: dict[str, str]) -> int:
    """Bring a catalogue up to date; return how many sentences it lacks. added: English → translation."""
    path = FOLDER / f"{language}.po"
    old = read_po(path.open("rb"), locale=language) if path.exists() else Catalog(locale=language)
    new = Catalog(locale=language, project="Open Acorn", version="1", charset="utf-8", fuzzy=False)
    missing = 0
    for text in sentences():
        key = text if isinstance(text, str) else text[0]
        known = old.get(key)
        said: str | tuple[str, ...] = ""
        if known and known.string:
            said = known.string if isinstance(known.string, str) else tuple(known.string)
        if key in added:
            said = added[key] if isinstance(text, str) else _forms(added[key], new.num_plurals)
        missing += not said
        new.add(text, said or ("" if isinstance(text, str) else ("", "")))
    with path.open("wb") as file:
        write_po(file, new, width=0, no_location=True, omit_header=False)
    return missing


def main() -> None:
    """Update one catalogue with lines, or all of them without."""
    lines = Path(sys.argv[2]).read_text(encoding="utf-8").splitlines() if len(sys.argv) > 2 else []
    pairs = (line.replace("\\n", "\n").split("\t", 1) for line in lines if "\t" in line)
    added = {pair[0]: pair[1] for pair in pairs}
    for language in [sys.argv[1]] if len(sys.argv) > 1 else [code for code in LANGUAGES if code != ENGLISH]:
        print(f"{language}: {update(language, added)} sentences without a translation")


if __name__ == "__main__":
    main()
