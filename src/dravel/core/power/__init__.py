"""Power: what is drawn, what there is, cables, dew."""
