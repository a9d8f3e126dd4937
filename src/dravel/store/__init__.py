"""What is kept: parts, targets, sites, preferences, and rigs with their revisions, in one SQLite file."""

from dravel.store.builds import Tick
from dravel.store.damage import Damage, Damaged
from dravel.store.database import copy_database
from dravel.store.holding import InUse, hold, put_aside
from dravel.store.jobs import Job
from dravel.store.nights import KeptNight
from dravel.store.papers import Paper
from dravel.store.rigs import RevisionSummary, RigRecord, RigStore
from dravel.store.search import Hit
from dravel.store.sessions import KeptSession
from dravel.store.store import Entry, Stale, Store, Unknown

__all__ = [
    "Damage",
    "Damaged",
    "Entry",
    "Hit",
    "InUse",
    "Job",
    "KeptNight",
    "KeptSession",
    "Paper",
    "RevisionSummary",
    "RigRecord",
    "RigStore",
    "Stale",
    "Store",
    "Tick",
    "Unknown",
    "copy_database",
    "hold",
    "put_aside",
]
