"""Guide: stars, errors and limits of keeping still."""
