"""What is asked of this room over HTTP: one module a noun."""
