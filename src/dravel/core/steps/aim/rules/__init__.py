"""Rules of Aim."""
