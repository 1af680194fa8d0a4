"""Wording texts anew: what a helper is asked, and whether it said only what is known."""
