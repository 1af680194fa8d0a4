"""Matching: listings merged into businesses, possible duplicates, decisions about them."""
