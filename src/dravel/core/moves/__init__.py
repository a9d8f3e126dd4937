"""Changes of a rig that mends try."""
