"""The measures of a finish, one entry each: what they are, and how their numbers are shown."""
