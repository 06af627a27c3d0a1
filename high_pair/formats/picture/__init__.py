"""Pictures as documents: their text is in the pixels, in boxes that a person draws."""
