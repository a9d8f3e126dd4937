"""The words of the web, by place: what tests look for on the screen, so that other words break none of them."""

import json
import re
from pathlib import Path
from types import SimpleNamespace

FOLDER = Path(__file__).parents[1] / "web" / "src" / "terms"
WORDS: dict[str, dict[str, str]] = {path.stem: json.loads(path.read_text()) for path in sorted(FOLDER.glob("*.json"))}
T = SimpleNamespace(**{place: SimpleNamespace(**words) for place, words in WORDS.items()})


def fill(term: str, **given: object) -> str:
    """A term with all its places in braces filled. Raises `KeyError` when one is left open."""
    return re.sub(r"\{(\w+)\}", lambda item: str(given[item[1]]), term)


def like(term: str, **given: object) -> re.Pattern[str]:
    """What a term may read as: its places filled with what is given, the others with anything."""
    pieces = re.split(r"\{(\w+)\}", term)
    return re.compile("".join(
        re.escape(piece) if i % 2 == 0 else re.escape(str(given[piece])) if piece in given else ".*?"
        for i, piece in enumerate(pieces)
    ))  # fmt: skip
