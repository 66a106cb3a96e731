"""The search for the best schedule: a process of its own that loads the solver, and what starts and stops it."""
