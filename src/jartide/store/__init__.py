"""The workspace on disk, and all reading and writing of tables and exchange formats."""
