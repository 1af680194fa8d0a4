"""Auditing: visits by worker processes, what is stored of them, reputation, verification, audits again."""
