"""Resin in time and air: dew point, pot life."""
