"""Questions over several rigs, or over a whole rig at once."""
