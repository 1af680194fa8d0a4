"""Data about people: what is kept, where it came from, and how it is given out, erased, and removed when its time is over."""
