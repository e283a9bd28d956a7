"""Colours, fonts, marks and plain text: how everything in the window looks."""
