"""A frame's reading in two pieces: what is asked for often as JSON, and what only its picture needs compressed.

Stars and small picture are nine tenths of a reading; of a log of years they are all that makes a backup slow.
"""

import json
import zlib
from typing import Any

DRAWN = ("stars", "picture", "brightest")


def packed(reading: dict[str, Any]) -> tuple[str, bytes]:
    """A reading as JSON values, in two pieces."""
    light = {key: value for key, value in reading.items() if key not in DRAWN}
    drawn = {key: reading[key] for key in DRAWN if key in reading}
    return _json(light), zlib.compress(_json(drawn).encode(), 6)


def unpacked(body: str, drawn: bytes | None) -> str:
    """The reading's JSON from its pieces; the body itself where all of it lies there. Raises `ValueError`."""
    if drawn is None:
        return body
    try:
        return _json({**json.loads(body), **json.loads(zlib.decompress(drawn))})
    except (zlib.error, TypeError) as error:
        raise ValueError(f"what is drawn of it is damaged: {error}") from None


def _json(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False, separators=(",", ":"))
