"""Cut line, taper, plies and core of one patch, as plane geometry."""
