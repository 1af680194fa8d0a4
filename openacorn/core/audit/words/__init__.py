"""Tables of words that sites use, by language."""
