"""From a file to a `Picture`: load, square, scale, neutral, region."""
