"""Frames and guide logs: what was measured on the sky, and what it says of the rig. Arrays in, values out; no files."""
