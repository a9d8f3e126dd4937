"""Changes of a rig that fixes try."""
