"""The room that notifies other programs of what happens."""
