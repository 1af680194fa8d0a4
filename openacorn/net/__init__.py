"""All that touches the network: one HTTP client with its guards, and probes that use it."""
