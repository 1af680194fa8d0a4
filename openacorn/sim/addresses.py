"""Where the world's servers are found."""

SITES_ADDRESS, REFUSING_ADDRESS, PLAIN_ADDRESS = "127.0.0.1", "127.0.0.2", "127.0.0.3"
"""Loopback addresses: where sites listen, where nobody does, and where only plain HTTP is spoken."""

POST_HOST = "post.wrenfold.example"
POST_PASSWORD = "harbour-light"  # the demo's own, which guards nothing
