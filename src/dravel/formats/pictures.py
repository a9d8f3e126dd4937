"""Pictures of a session made small, with nothing in them of where and by whom they were taken."""

import io
import warnings
from typing import Literal

LONGEST_PX, QUALITY = 1600, 85
MOST_PX = 80_000_000  # a phone's picture has 50 million
PDF, PNG = b"%PDF-", b"\x89PNG\r\n\x1a\n"


class NotAPicture(ValueError):
    """What was given is no picture that can be kept, and why."""


def shrunk(given: bytes) -> bytes:
    """A JPEG or PNG as a JPEG of at most 1600 pixels a side, turned upright, without any metadata. Raises `NotAPicture`."""
    from PIL import Image, ImageOps

    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error")
            opened = Image.open(io.BytesIO(given), formats=("JPEG", "PNG"))
            if opened.width * opened.height > MOST_PX:
                raise NotAPicture(f"it has {opened.width} × {opened.height} pixels; at most {MOST_PX:,} are read")
            opened.draft("RGB", (LONGEST_PX, LONGEST_PX))
            upright = ImageOps.exif_transpose(opened)
            flat = Image.new("RGB", upright.size, "black")
            flat.paste(upright, mask=upright.getchannel("A") if upright.mode in ("RGBA", "LA") else None)
    except NotAPicture:
        raise
    except Exception as error:  # the reader of pictures raises what it likes on broken ones
        raise NotAPicture(
            f"it is no JPEG or PNG that can be read ({str(error)[:80] or type(error).__name__})"
        ) from None
    flat.thumbnail((LONGEST_PX, LONGEST_PX))
    made = io.BytesIO()
    # Drawn onto a fresh picture: no metadata of the old one can come along.
    flat.save(made, "JPEG", quality=QUALITY, optimize=True)
    return made.getvalue()


def document_kind(given: bytes) -> Literal["application/pdf", "image/png"]:
    """What kind of document bytes are, by how they begin. Raises `NotAPicture`."""
    if given.startswith(PDF):
        return "application/pdf"
    if given.startswith(PNG):
        return "image/png"
    raise NotAPicture("it is neither PDF nor PNG")
