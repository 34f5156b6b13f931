"""What the application asks of outside devices; simulated ones live in `studio`."""
