"""Readings and what they say about where the damage is."""
