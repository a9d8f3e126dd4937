"""A kept thing was changed: the copies of it that rigs hold are brought up to date."""

import json
from collections.abc import Callable
from dataclasses import dataclass

from dravel.core.model import Assembly, Growth, Part, Rig, Site, Target
from dravel.core.train.assembly import with_entry


@dataclass(frozen=True)
class Renewal:
    """A kept thing as it was (its document), and as it is now. Called with a rig's document, it gives the new one."""

    entry_id: str
    old: str
    body: Part | Target | Site | Assembly | Growth

    @property
    def mention(self) -> str:
        """What a document says that holds a copy of it."""
        return json.dumps(self.entry_id)

    def __call__(self, text: str, read: Callable[[str], Rig]) -> str:
        """A rig's document with its copies renewed. Raises `ValueError` where it cannot be read."""
        mark = f'"id":{self.mention}'
        copies = text.count(self.old)
        # Whole copies are exchanged as they are written, which is a hundred times quicker than reading the rig. Not where
        # it speaks of the thing otherwise too, and not a camera whose front ring is the rig's own affair.
        if copies and text.count(mark) == copies * self.old.count(mark) and '"front_ring":{' not in self.old:
            return text.replace(self.old, self.body.model_dump_json())
        return with_entry(read(text), self.entry_id, self.body).model_dump_json()
