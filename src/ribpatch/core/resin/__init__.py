"""Resin in time and air: dew point, cure and the heat that it makes, cups, slabs."""
