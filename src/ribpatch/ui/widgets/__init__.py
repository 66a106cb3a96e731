"""Small widgets used by several stages."""
