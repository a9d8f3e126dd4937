"""Simulated instruments behind small typed ports, and the player that rehearses a planned night with them."""
