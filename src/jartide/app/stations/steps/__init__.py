"""Steps: the plan on its hours, and the pages behind it."""
