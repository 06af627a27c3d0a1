"""Sets of colours as files of their own: design tokens, custom properties, palettes."""
