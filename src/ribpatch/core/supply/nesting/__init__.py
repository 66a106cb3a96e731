"""Pieces by their own shape on a roll."""
