"""Resumable runs: units of work are rows, and what is done is kept in the same transaction as its result."""
