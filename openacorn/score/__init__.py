"""Scoring: the services an agency sells, the opportunities they make, and the win model."""
