"""Measures of speed as ratios against a floor measured in the same run."""
