"""The simulated world: a fictional coast, its businesses, and the servers that speak about them."""
