"""The demo: an invented coast, and an agency there in its second month."""
