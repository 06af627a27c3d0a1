"""The work itself: open, measure, decide, remedy, save."""
