"""Wording texts again: what a helper is asked, and whether it said only what is known."""
