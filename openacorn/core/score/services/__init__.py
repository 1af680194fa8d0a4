"""One file a service; its `SERVICE` is found by scan. Fees are a small studio's, as a start (common practice)."""
