"""The command line. Never imports Qt."""
