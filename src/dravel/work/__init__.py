"""Long work, done in processes of their own: a crash of one is a failed job, never a failed server."""
