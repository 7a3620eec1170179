"""Reading and writing the record: the diary as CSV, everything as JSON. No store, no interface."""
