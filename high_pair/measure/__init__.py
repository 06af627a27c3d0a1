"""From a page's scene and pixels to pairs with verdicts, and what is alike among them."""
