"""One screen per station of the work."""
