"""Painted widgets that stations are built from."""
