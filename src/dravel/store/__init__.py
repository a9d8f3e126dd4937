"""What is kept: parts, targets, sites, practice, and rigs with their revisions, in one SQLite file."""

from dravel.store.builds import Tick
from dravel.store.damage import Damage, Damaged
from dravel.store.database import copy_database
from dravel.store.holding import InUse, hold, put_aside
from dravel.store.jobs import Job
from dravel.store.nights import KeptNight, KeptSession
from dravel.store.rigs import RevisionSummary, RigRecord, RigStore
from dravel.store.store import Entry, Stale, Store, Unknown

__all__ = [
    "Damage",
    "Damaged",
    "Entry",
    "InUse",
    "Job",
    "KeptNight",
    "KeptSession",
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
