"""Rib Patch: from readings on a boat to a repair plan and a work pack."""

__version__ = "0.1.0"
