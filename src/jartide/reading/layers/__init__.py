"""Which layers a picture has: their tones, how much of each is seen where, their paint order."""
