"""What is kept and cannot be read any more: named, with what can be saved, and in nobody's way."""

import json
from collections.abc import Callable
from dataclasses import dataclass
from hashlib import blake2b

from pydantic import ValidationError


class Damaged(Exception):
    """A kept thing that cannot be read."""

    def __init__(self, kind: str, entry_id: str, because: str) -> None:
        super().__init__(f"the {kind} '{entry_id}' is damaged: {because}. What is there can be exported as it is")


@dataclass(frozen=True)
class Damage:
    """A damaged thing: what it is, its name as far as it can be told, why it cannot be read, and what is there.

    `revision`: of a rig the damaged one, from which undo leads back.
    """

    kind: str
    id: str
    name: str
    because: str
    raw: str
    revision: int | None = None


def why(error: ValueError) -> str:
    """Why a kept text cannot be read, in a few words."""
    if isinstance(error, ValidationError):
        first = error.errors(include_url=False)[0]
        return f"{'.'.join(str(step) for step in first['loc']) or 'document'}: {first['msg']}"[:200]
    return str(error)[:200]


def name_in(raw: str) -> str:
    """The name a damaged text still holds, or nothing."""
    try:
        held = json.loads(raw)
    except ValueError:
        return ""
    name = held.get("name") if isinstance(held, dict) else None
    return name[:120] if isinstance(name, str) else ""


MOST_SOUND = 200_000  # texts remembered as sound


def digest(text: str) -> bytes:
    """A short mark of a text that no other has."""
    return blake2b(text.encode("utf-8", "surrogatepass"), digest_size=16).digest()


class Checked:
    """Why a kept text cannot be read, or None; a sound one is read only once."""

    def __init__(self, read: Callable[[str], object]) -> None:
        self._read = read
        self._sound: set[bytes] = set()

    def __call__(self, text: str) -> str | None:
        """The reason, in a few words."""
        mark = digest(text)
        if mark not in self._sound:
            try:
                self._read(text)
            except ValueError as error:
                return why(error)
            if len(self._sound) > MOST_SOUND:
                self._sound.clear()
            self._sound.add(mark)
        return None
