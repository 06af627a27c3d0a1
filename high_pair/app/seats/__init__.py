"""Seats on the Review desk: the page as seen from there, and what its texts are like."""
