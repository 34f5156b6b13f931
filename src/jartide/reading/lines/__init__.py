"""Lines: where they run, and what is measured along and across them."""
