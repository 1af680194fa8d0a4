"""Shapes of requests and answers: one module a noun, the same noun as the route."""
