"""What every check says of evidence drawn at random is written down; a change of mind or of words is a change of that file."""

from tests.core.audit.drawn import FILE, lines


def test_no_check_changes_its_mind_or_its_words_unnoticed() -> None:
    written, said = FILE.read_text(encoding="utf-8").splitlines(), lines()
    changed = [f"{was} → {now}" for was, now in zip(written, said, strict=False) if was != now]
    assert written == said, f"look at these, then run `python -m tests.core.audit.drawn`: {changed}"
