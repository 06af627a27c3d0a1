"""Scripts that make what is checked in."""
