"""Kinds of telescope by what light meets in them: what cools, focuses, dews and drifts like what."""

LENSES = ("doublet", "triplet", "petzval", "camera_lens")
# No glass at all on the way: all colours come to one focus, and nothing in front dews over.
ALL_MIRRORS = ("newtonian", "ritchey_chretien")
MIRRORED = (*ALL_MIRRORS, "schmidt_cassegrain", "maksutov", "maksutov_newtonian")
