"""Photographs set straight: lens and perspective taken out, so that places in them are metres."""
