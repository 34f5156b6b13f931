"""Reading x Reading -> Comparison: what differs most, in words, and what mends it."""
