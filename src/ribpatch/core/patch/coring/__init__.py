"""The new core: which one, and the work on it."""
