"""The long attacks that `make soak` runs, one subject per file."""
