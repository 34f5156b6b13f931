"""Simulated stand-ins: surfaces whose truth is known by construction, and a camera.

They draw surfaces by geometry and noise, in other ways than `reading` measures them.
"""
