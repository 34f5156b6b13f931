"""What is derived of a job, in painters' words: the same on every screen, sheet and list."""
