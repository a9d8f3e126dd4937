"""Rules of Glass."""
