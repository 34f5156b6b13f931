"""The signature elements, as functions that draw with a `Kit`."""
