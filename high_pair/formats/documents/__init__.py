"""Word-processing documents (ECMA-376 Part 1 §17)."""
