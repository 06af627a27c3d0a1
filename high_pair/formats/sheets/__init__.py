"""Workbooks (ECMA-376 Part 1 §18)."""
