"""Tables of what pages load from others: whose hosts they are, and what the loaders look like."""
