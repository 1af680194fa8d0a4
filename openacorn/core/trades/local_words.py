"""What a trade is called in the language of a place: the words that a directory there understands."""

from functools import lru_cache
from importlib import resources

from openacorn.core.trades.trade import Trade

FOLDER = "local"
"""A file a language (BCP 47): map tag, then names and search words, best first. Translations of the open map's tagging presets
(@openstreetmap/id-tagging-schema, ISC; tools/extract_data.py)."""


@lru_cache(maxsize=8)
def _table(language: str) -> dict[str, tuple[str, ...]]:
    """Tag → words. language: as in a plan; the file of its country's variant, else of the language itself."""
    folder = resources.files(__package__).joinpath(FOLDER)
    tag = language.replace("_", "-")
    for name in dict.fromkeys((tag, {"no": "nb", "zh": "zh-CN"}.get(tag.partition("-")[0], tag.partition("-")[0]))):
        file = folder.joinpath(f"{name}.tsv")
        if name and file.is_file():
            lines = (line.split("\t") for line in file.read_text(encoding="utf-8").splitlines())
            return {tag: tuple(words.split(";")) for tag, words in lines}
    return {}


def local_words(trade: Trade, language: str) -> tuple[str, ...]:
    """A trade's words in a language (BCP 47), the most usual first; none where we know none, as for English, which is our own."""
    table = _table(language)
    return tuple(dict.fromkeys(word.lower() for tag in trade.tags for word in table.get(tag, ())))
