"""Jar Tide: read a reference photo, mix for it, bring test boards closer to it.

One package per stage of the painter's work; docs/architecture.md is the map.
"""

__version__ = "0.1.0"
