"""Charts: their data, the places of their parts, their marks and all their text."""
