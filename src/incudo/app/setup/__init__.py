"""Use cases of setup: head, vise and holding: records and how they stand."""
