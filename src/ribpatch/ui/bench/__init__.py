"""The centre of the window: the picture of the work."""
