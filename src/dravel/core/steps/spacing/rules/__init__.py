"""Rules of Spacing."""
