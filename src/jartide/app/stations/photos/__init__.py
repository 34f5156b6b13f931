"""The Photos station: tray, opened photo with its marks, and what makes it ready."""
