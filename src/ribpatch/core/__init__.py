"""The pure model: documents, methods and figures. No files, no clock, no interface."""
