"""Moving a text over its page by hand, with the places where it passes."""
