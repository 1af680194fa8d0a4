"""One file a format; its `FORMAT` is found by scan."""
