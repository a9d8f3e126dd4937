"""The log: what was shot over all nights, what is open, which marks worked, and how the rig that was built differs."""
