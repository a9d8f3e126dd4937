"""Looking for words over everything that is kept, by the index that the database keeps itself."""

import re
from dataclasses import dataclass

from sqlalchemy import text

from dravel.store.database import Database

# A title counts more than what is written inside; archived things are found, and said to be put away.
ASKED = """
SELECT coalesce(entries.kind, found.kind), coalesce(entries.id, found.id), found.title, snippet(found, 3, '', '', '…', 10),
  coalesce(entries.archived, rigs.archived, sessions.archived, papers.archived, 0)
FROM found
LEFT JOIN papers ON found.kind = 'paper' AND papers.rowid = found.rowid / 8
LEFT JOIN entries ON found.rowid % 8 = 1 AND entries.rowid = found.rowid / 8
LEFT JOIN rigs ON found.kind = 'rig' AND rigs.id = found.id
LEFT JOIN sessions ON found.kind IN ('session', 'marks') AND sessions.id = found.id
WHERE found MATCH :words AND coalesce(entries.kind, found.kind) NOT GLOB '~*' ORDER BY lower(found.title) = lower(:plain) DESC, bm25(found, 0, 0, 12, 1), found.rowid LIMIT :most
"""
WORD = re.compile(r"[^\W_]+", re.UNICODE)


@dataclass(frozen=True)
class Hit:
    """Something that was found: what it is, its id, its title, and the words around."""

    kind: str
    id: str
    title: str
    around: str
    archived: bool


class SearchStore:
    """Words to things."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def find(self, words: str, most: int = 30) -> list[Hit]:
        """What has all of some words in it, each as a word or its beginning; nothing without a word."""
        asked = " ".join(f'"{word}"*' for word in WORD.findall(words)[:12])
        if not asked:
            return []
        with self._database.read() as session:
            rows = session.execute(text(ASKED), {"words": asked, "plain": words.strip(), "most": most})
            return [Hit(kind, key, title, around or "", bool(away)) for kind, key, title, around, away in rows]
