"""Picture -> Reading: layers in paint order, then the pattern's measures."""
