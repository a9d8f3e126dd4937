"""Designing: from what one wants to photograph to whole rigs that work, the best trade-offs among them."""
