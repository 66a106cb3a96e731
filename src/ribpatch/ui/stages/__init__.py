"""One module per rung of the ladder."""
