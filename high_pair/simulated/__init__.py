"""Small stand-ins for outside services, for tests and for machines without them."""
