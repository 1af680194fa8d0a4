"""What owners read, in their own language: catalogues of sentences, and which of them a business gets."""
