"""Everything in one file for other programs: one business per line, or tables for SQL; and read in again."""
