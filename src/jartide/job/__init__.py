"""The model of an open job, without Qt: its records, what is derived from them, undo as data."""
