"""What all rooms share of a business: its row, listings, evidence, history, decisions, and the table in memory."""
