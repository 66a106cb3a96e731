"""The search for shorter layouts, in a process of its own beside the program."""
