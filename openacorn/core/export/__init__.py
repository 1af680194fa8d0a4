"""Export formats that the product ships."""
