"""Arrays of colour: spaces, differences, words."""
