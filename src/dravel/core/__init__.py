"""Rules and computation of rigs. Knows nothing of the web, the database or files."""
