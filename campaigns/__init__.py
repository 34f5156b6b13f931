"""Attacks on the program that run for as long as one likes, and a fixed slice of each in CI."""
