"""Where the piece lies in its photo: told from the wall, bench and floor around it."""
