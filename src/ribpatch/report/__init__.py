"""The printed work pack."""
