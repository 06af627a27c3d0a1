"""The Bench: two colours measured by hand, picked from anywhere, adjusted until they pass."""
