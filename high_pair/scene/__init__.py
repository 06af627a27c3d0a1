"""A page described without any file format: paint, figures, pictures, text, in z order.

Lengths are in points, x to the right and y down from the page's top left corner.
"""
