"""How far a measure can be trusted: its two intervals, and what makes them wider."""
