"""Why it failed: causes, findings, the network between them, what it means for the repair and where else to look."""
