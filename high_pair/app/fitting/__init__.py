"""Fitting an overlay by hand: its handles on the page and its form beside it."""
