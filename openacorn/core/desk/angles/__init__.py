"""One file an angle; its `ANGLE` is found by scan."""
