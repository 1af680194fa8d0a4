"""A new website out of what is known: blocks of the old one, outline, copy, themes, files."""
