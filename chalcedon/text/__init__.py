"""Text: fonts, shaping with HarfBuzz, lines, glyph outlines. Knows nothing of scenes and needs no screen."""
