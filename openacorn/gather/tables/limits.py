"""How much of a file is read, and what reading it may take."""

SAMPLE = 200
"""The first rows, which tell what columns there are."""

COLUMNS = 1_000
"""No table of listings has more; workbooks can say that they have 16,384, and CSV anything."""

BLANK_ROWS = 50_000
"""After so many rows without a single cell nothing more is looked for."""

DEPTH = 30
"""Elements within elements of a map extract: it has three."""

MEMORY = 2 * 1024**3
SECONDS = 60
BYTES_A_SECOND = 500_000
"""On top of SECONDS of processor time: the slowest reader, that of workbooks, takes a second for a megabyte."""

OUT_OF_MEMORY = 77
"""Exit status of a reader that ran out of memory."""
