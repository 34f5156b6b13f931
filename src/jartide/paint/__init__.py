"""Paints: what is on the shelf, how they mix and cover, and which mix makes a colour."""
