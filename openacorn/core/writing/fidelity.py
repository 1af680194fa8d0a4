"""Does a text that was worded again say only what the text before it and the known facts say?

It is strict: a word that stands neither there nor among those that claim nothing is a claim of its own. What it cannot see: two
denials in one sentence ("it does not lead nowhere"), and two numbers that changed places where no word follows them.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from rapidfuzz.fuzz import token_sort_ratio

from openacorn.core.writing.vocabulary import Vocabulary, vocabulary, words_of

LINK = re.compile(r"(?:https?://|www\.)\S*[\w/]|[\w.+-]+@[\w-]+(?:\.[\w-]+)+|\b(?:[\w-]+\.)+[a-z]{2,}\b(?:/\S*[\w/])?")
_NUMBER = re.compile(
    r"(?P<before>[$€£]\s?)?(?P<digits>\d+(?:[.,\s\u00a0\u202f’']\d{3})*(?:[.,]\d+)?)(?P<after>\s?[%€$£])?"
)
_SENTENCE = re.compile(r"[^.!?…\n]+(?:[.!?…]+(?!\s|$)[^.!?…\n]*)*[.!?…]*")
_TOKEN = re.compile(r"\d+(?:[.,]\d+)*|[^\W\d_]+|[.,;:!?()–—]")
_CLOSING = re.compile(
    r"\b(?:all the\s+)?best(?=\s+(?:regards|wishes)|\s*,|\s*$)|\bviele(?=\s+(?:\w+\s+)?grüße)",
    re.IGNORECASE | re.MULTILINE,
)
DENIED = 2
"""Words beside a negation that are what it denies."""

MARGIN = 3.0
"""By so much more alike must the opposite be before a statement counts as turned round."""

ALIKE = 35.0
"""Of 100: how alike two sentences are at least for one to rest on the other."""

UNITS = "%€$£"
BESIDE = 3
"""Words after a number within which its own word stands."""


@dataclass(frozen=True, slots=True)
class Statement:
    """A sentence that may be said again. because: what allows it."""

    text: str
    because: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class SentenceCheck:
    """A sentence that was worded again. problems: why it must not be said; because: what allows it."""

    text: str
    problems: tuple[str, ...] = ()
    because: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class RewriteCheck:
    """A text that was worded again, sentence by sentence. lost: links of the text before that it lacks."""

    sentences: tuple[SentenceCheck, ...]
    lost: tuple[str, ...] = ()

    @property
    def holds(self) -> bool:
        """May it be used?"""
        return bool(self.sentences) and not self.lost and not any(sentence.problems for sentence in self.sentences)


@dataclass(frozen=True, slots=True)
class _Read:
    """A sentence taken apart. stems: of its words, in order; numbers: with their units; follows: number → stems after it."""

    stems: tuple[str, ...]
    numbers: frozenset[str]
    follows: dict[str, tuple[str, ...]]


def split_sentences(text: str) -> list[str]:
    """The sentences of a text; a line's end ends one, a full stop within a link or a number does not."""
    return [piece for match in _SENTENCE.finditer(text) if (piece := match.group().strip())]


def _value(digits: str) -> str:
    """A number without separators of thousands, with a point before its decimals."""
    plain = re.sub(r"[\s\u00a0\u202f’']", "", digits)
    plain = re.sub(r"[.,](?=\d{3}(?:[.,]|$))", "", plain) if not re.fullmatch(r"0[.,]\d+", plain) else plain
    return f"{float(plain.replace(',', '.')):g}"


def _numbers(text: str, words: Vocabulary) -> frozenset[str]:
    found = set()
    for match in _NUMBER.finditer(text):
        unit = (match["before"] or match["after"] or "").strip()
        found.add(_value(match["digits"]) + unit)
    return frozenset(found) | {
        str(words.numbers[word]) for word in re.findall(r"\w+", text.lower()) if word in words.numbers
    }


def _read(text: str, language: str, words: Vocabulary) -> _Read:
    plain = LINK.sub(" ", text)
    stems = tuple(words.stem(word.lower()) for word in words_of(plain, language))
    follows: dict[str, tuple[str, ...]] = {}
    tokens = [str(words.numbers.get(token.lower(), token)) for token in _TOKEN.findall(plain)]
    for at, token in enumerate(tokens):
        if token[0].isdigit():
            rest = []
            for beside in tokens[at + 1 : at + 1 + BESIDE]:
                if not beside[0].isalpha():
                    break
                rest.append(words.stem(beside.lower()))
            follows[_value(token)] = follows.get(_value(token), ()) + tuple(rest)
    return _Read(stems, _numbers(plain, words), follows)


class _Checker:
    """Knows what may be said, and judges one sentence after the other."""

    def __init__(self, sources: Sequence[Statement], language: str) -> None:
        self._words, self._language = vocabulary(language), language
        self._sources = [(source, _read(source.text, language, self._words)) for source in sources]
        self._clauses = [read for source in sources for read in self._clauses_of(source.text)]
        self._stems = {stem for _, read in self._sources for stem in read.stems}
        self._numbers = {number for _, read in self._sources for number in read.numbers}
        self._bare = {number.rstrip(UNITS) for number in self._numbers}
        self._written = {word for source in sources for word in words_of(source.text, language)}
        self._links = {link.lower() for source in sources for link in LINK.findall(source.text)}

    def check(self, text: str) -> SentenceCheck:
        """Judge a sentence."""
        read = _read(_CLOSING.sub("", text), self._language, self._words)
        problems = [*self._wrong_links(text), *self._wrong_numbers(read), *self._wrong_words(text)]
        problems = problems or self._turned(text)
        return SentenceCheck(text, tuple(problems), () if problems else self._because(read))

    def _wrong_links(self, text: str) -> list[str]:
        return [f"{link} is no link of your text" for link in LINK.findall(text) if link.lower() not in self._links]

    def _wrong_numbers(self, read: _Read) -> list[str]:
        found = []
        for number in sorted(read.numbers):
            bare = number.rstrip(UNITS)
            if number not in self._numbers and not (number in self._bare and number.isdigit()):
                found.append(f"the number {number} is not in your text or the facts")
            elif (word := self._own_word(read, bare)) and not any(
                word in other or not (other or word in self._words.units)
                for other in (other.follows[bare] for _, other in self._sources if bare in other.follows)
            ):
                found.append(f"the number {number} is another thing’s")
        return found

    def _own_word(self, read: _Read, number: str) -> str:
        """The first word after a number that says something and that the facts have too, or its unit of time; "" without one."""
        for stem in read.follows.get(number, ()):
            if stem in self._words.units or (stem in self._stems and stem not in self._words.harmless):
                return stem
        return ""

    def _wrong_words(self, text: str) -> list[str]:
        """Words that occur in no fact and claim something, and names among them."""
        found: dict[str, str] = {}
        first = True
        for word in words_of(LINK.sub(" ", _CLOSING.sub("", text)), self._language):
            stem = self._words.stem(word.lower())
            name = (
                not first
                and word[0].isupper()
                and len(word) > 1
                and self._language != "de"
                and word not in self._written
            )
            first = False
            if word in self._written or word.lower() in self._words.numbers:
                continue
            if stem in self._stems | self._words.negations or self._parted(word.lower()):
                continue
            if stem in self._words.weighty:
                found[word] = f"“{word}” says more than your text does"
            elif stem not in self._words.harmless or name:
                found[word] = f"“{word}” is not in your text or the facts"
        return list(found.values())

    def _parted(self, word: str) -> bool:
        """Do the sources have a verb in its two parts, as "legen … an" for "anlegen"?"""
        return any(
            word.startswith(prefix)
            and prefix in self._stems
            and self._words.stem(word.removeprefix(prefix)) in self._stems
            for prefix in self._words.prefixes
        )

    def _clauses_of(self, text: str) -> list[_Read]:
        """The statements of a sentence, one by one."""
        joins = "|".join(sorted(self._words.joins))
        parts = re.split(rf"[,;:()–—]|\b(?:{joins})\b", _CLOSING.sub("", text), flags=re.IGNORECASE)
        return [_read(part, self._language, self._words) for part in parts if part.strip()]

    def _spoken_of(self, stems: Sequence[str]) -> list[str]:
        return [stem for stem in stems if stem not in self._words.common | self._words.negations]

    def _denied(self, read: _Read) -> set[str]:
        """What a statement denies: the words after its negation that say something, or those before it; none without one."""
        at = next((place for place, stem in enumerate(read.stems) if stem in self._words.negations), None)
        if at is None:
            return set()
        before, after = (self._spoken_of(part) for part in (read.stems[:at], read.stems[at:]))
        return set((after or list(read.stems[at + 1 :][-1:]) or before[::-1])[:DENIED])

    def _turned(self, text: str) -> list[str]:
        """Does a statement deny what the one that is most like it says, or say what that denies?"""
        for read in self._clauses_of(text):
            denied, line = self._denied(read), " ".join(read.stems)
            same = opposite = ALIKE
            for other in self._clauses:
                others = self._denied(other)
                alike = token_sort_ratio(line, " ".join(other.stems))
                if bool(others) == bool(denied):
                    same = max(same, alike)
                elif not (others.isdisjoint(read.stems) and denied.isdisjoint(other.stems)):
                    opposite = max(opposite, alike)
            if opposite > same + MARGIN:
                return ["it denies what your text says" if denied else "it says what your text denies"]
        return []

    def _because(self, read: _Read) -> tuple[str, ...]:
        """What allows a sentence: the reasons of the source that is most like it, none if it claims nothing."""
        said, line = set(self._spoken_of(read.stems)), " ".join(read.stems)
        best, found = ALIKE, tuple[str, ...]()
        for source, other in self._sources:
            if not said.isdisjoint(other.stems) and (alike := token_sort_ratio(line, " ".join(other.stems))) >= best:
                best, found = alike, source.because
        return found


def check_rewrite(before: Sequence[Statement], rewrite: str, facts: Sequence[str], language: str) -> RewriteCheck:
    """Judge a text that was worded again.

    before: the sentences of the text that it takes the place of; facts: whatever else is known and may be said, in `language` (ISO
    639-1, one of LANGUAGES), which the rewrite is in.
    """
    sources = [*before, *(Statement(fact) for fact in facts if fact)]
    checker = _Checker(sources, language)
    links = dict.fromkeys(link for source in before for link in LINK.findall(source.text))
    lost = tuple(link for link in links if link.lower() not in rewrite.lower())
    return RewriteCheck(tuple(map(checker.check, split_sentences(rewrite))), lost)
