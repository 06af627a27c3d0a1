"""Slide decks: .pptx, .potx, .ppsx and .pptm (ECMA-376 Part 1 §19)."""
