"""One file a source; its `SOURCE` is found by scan. Files with a leading underscore are the frame they share."""
