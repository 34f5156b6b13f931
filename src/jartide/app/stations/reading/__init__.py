"""The station that shows what the target's photo tells."""
