"""Files in answers, under the names that people gave the things in them."""

from typing import Literal
from urllib.parse import quote

from starlette.responses import Response

from dravel.core.model.base import clean

_FORBIDDEN = str.maketrans('/\\:*?"<>|', "_" * 9)  # what names of files may not hold on one system or another
LONGEST = 120


def named(name: str, *, shown: Literal["attachment", "inline"] = "attachment") -> dict[str, str]:
    """The header that names a file (RFC 6266), whatever signs its name has: plain ones for readers of old, all for others."""
    whole = clean(name).translate(_FORBIDDEN).strip(" .")[-LONGEST:] or "file"
    plain = whole.encode("ascii", "replace").decode().replace("?", "_")
    also = "" if plain == whole else f"; filename*=UTF-8''{quote(whole, safe='')}"
    return {"content-disposition": f'{shown}; filename="{plain}"{also}'}


def a_file(
    body: bytes | str, kind: str, name: str, *, shown: Literal["attachment", "inline"] = "attachment"
) -> Response:
    """A file as an answer."""
    return Response(body, media_type=kind, headers=named(name, shown=shown))
