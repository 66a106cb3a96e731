"""Shipped and user data turned into core records; the demo job."""
