"""Tests of the packages: each is started with no source tree on its path."""
