"""Plies and stacks: thickness, resin content, weight."""
