"""From a scene to pixels, by Skia: the backdrop, the labelled text, the page as seen."""
