"""The measures of a pattern, each family of things by its own module."""
