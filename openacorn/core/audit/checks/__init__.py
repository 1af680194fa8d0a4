"""One file a check; its `CHECK` is found by scan."""
