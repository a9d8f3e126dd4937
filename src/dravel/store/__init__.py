"""What is kept: parts, targets, sites, practice, and rigs with their revisions, in one SQLite file."""

from dravel.store.rigs import RevisionSummary, RigRecord, RigStore
from dravel.store.store import Entry, Stale, Store, Unknown

__all__ = ["Entry", "RevisionSummary", "RigRecord", "RigStore", "Stale", "Store", "Unknown"]
