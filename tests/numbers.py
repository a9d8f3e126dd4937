"""Numbers of a sentence, in the order they stand: what tests hold of it, whatever its words."""

import re

NUMBER = re.compile(r"[−+<>≥≤~≈]?\d[\d,.]*\d|[−+<>≥≤~≈]?\d")


def numbers(words: object) -> tuple[str, ...]:
    """``Focus needs 95.3 mm; travel is 85 mm.`` holds ``95.3`` and ``85``."""
    return tuple(NUMBER.findall(str(words)))
