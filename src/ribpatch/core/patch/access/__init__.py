"""The way in: from which side, what to see to before cutting, where a test cut tells most."""
