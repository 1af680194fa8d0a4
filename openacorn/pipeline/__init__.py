"""The pipeline: carries one run through the rooms, from the first question to the last score."""
