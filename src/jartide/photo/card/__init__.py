"""The printed photo card: its design, its files, and how it is found and read in a photo."""
