"""The parts of the window that never move."""
