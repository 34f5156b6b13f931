"""Boards: the chosen board beside the target, and the pages that open from it."""
