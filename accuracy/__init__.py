"""Errors against simulated truth, with fixed seeds: `make accuracy`."""
