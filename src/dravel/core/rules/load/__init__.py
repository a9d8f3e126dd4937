"""Rules of the Load stop: can the mount carry it, does it balance, does it stand, can it be lifted?"""

from dravel.core.rules.load import balance, capacity, standing

__all__ = ["balance", "capacity", "standing"]
