"""Everything in one file for other programs: a business a line, or tables for people who like SQL; and taken in again."""
