"""Picking colours: from a page, from a picture, from the whole screen."""
