"""Routes: one module a noun."""
