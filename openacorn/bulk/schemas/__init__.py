"""The shapes of the lines of a file of everything."""
