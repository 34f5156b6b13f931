"""Joints of boards, bricks, tiles and panels: a structure of their own, no lines of the finish."""
