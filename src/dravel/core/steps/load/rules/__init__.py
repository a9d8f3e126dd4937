"""Rules of Load."""
