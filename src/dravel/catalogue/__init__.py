"""Open sky data, the starter shelf and the demo scenario."""
