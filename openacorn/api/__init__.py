"""The HTTP API, and the pages it serves."""
