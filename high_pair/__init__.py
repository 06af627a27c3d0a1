"""High Pair: measures the contrast of what is really painted, and mends what falls short."""

__version__ = "0.1.0"
