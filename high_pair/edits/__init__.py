"""Edits: what is to be changed, at which address; how they are merged, and written as JSON."""
