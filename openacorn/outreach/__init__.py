"""Outreach: shortlists and their pipeline, call sheets, mail merges, owners' pages, replies."""
