"""The lower half of the bench: the cut-through and, beside it, what a stage weighs up in tables and charts."""
