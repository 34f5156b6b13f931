"""Times, as ratios against a baseline of the same run: `make bench`."""
