"""The steps of a zone: what each takes, and what it waits for."""
