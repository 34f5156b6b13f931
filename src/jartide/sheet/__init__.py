"""What leaves the program on paper."""
