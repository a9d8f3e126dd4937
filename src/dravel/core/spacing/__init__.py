"""Spacing: does the image train mate, add up, clear the light and reach focus? And which rings would make it."""
