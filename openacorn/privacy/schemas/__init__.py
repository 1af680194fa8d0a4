"""Shapes of requests and responses."""
