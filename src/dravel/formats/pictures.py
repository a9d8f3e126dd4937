"""Pictures of a session made small, with nothing in them of where and by whom they were taken."""

import io
import warnings
from typing import TYPE_CHECKING, Literal

if TYPE_CHECKING:
    from PIL import Image

LONGEST_PX, QUALITY = 1600, 85
MOST_PX = 80_000_000  # a phone's picture has 50 million
SAYS_MORE = {"exif", "xmp", "photoshop", "comment", "adobe_xmp", "mp"}  # metadata that a picture may carry
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
            upright = ImageOps.exif_transpose(_small(opened))
            flat = Image.new("RGB", upright.size, "black")
            flat.paste(upright, mask=upright.getchannel("A") if upright.mode in ("RGBA", "LA") else None)
    except NotAPicture:
        raise
    except Exception as error:  # the reader of pictures raises what it likes on broken ones
        raise NotAPicture(
            f"it is no JPEG or PNG that can be read ({str(error)[:80] or type(error).__name__})"
        ) from None
    made = io.BytesIO()
    # Drawn onto a fresh picture: no metadata of the old one can come along.
    flat.save(made, "JPEG", quality=QUALITY, optimize=True)
    return made.getvalue()


def _small(opened: "Image.Image") -> "Image.Image":
    """A picture no longer than it is kept, made small before anything else: all the rest is then done in little memory."""
    if opened.mode in ("P", "1"):  # colours of a table cannot be averaged
        opened = opened.convert("RGBA" if "transparency" in opened.info else "RGB")
    elif opened.mode.startswith("I"):  # sixteen bits
        opened = opened.convert("I").point(lambda value: value / 256).convert("L")
    opened.thumbnail((LONGEST_PX, LONGEST_PX))
    return opened


def document_kind(given: bytes) -> Literal["application/pdf", "image/png"]:
    """What kind of document bytes are, by how they begin. Raises `NotAPicture`."""
    if given.startswith(PDF):
        return "application/pdf"
    if given.startswith(PNG):
        return "image/png"
    raise NotAPicture("it is neither PDF nor PNG")


def as_kept(of_kind: str, media: str, given: bytes) -> bytes:
    """What is kept of a picture or document that comes with its kind said: of a session a small JPEG without metadata, made so
    where it is not, of a part a PDF or PNG. Raises `NotAPicture`.
    """
    if of_kind != "session":
        if document_kind(given) != media:
            raise NotAPicture(f"it is no {media}")
        return given
    if media != "image/jpeg":
        raise NotAPicture(f"pictures of a night are stored as JPEG, not as {media[:40]}")
    from PIL import Image

    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error")
            opened = Image.open(io.BytesIO(given), formats=("JPEG",))
            plain = max(opened.size) <= LONGEST_PX and not SAYS_MORE & opened.info.keys()
            if plain:
                opened.load()
    except Exception as error:  # the reader of pictures raises what it likes on broken ones
        raise NotAPicture(f"it is no JPEG that can be read ({str(error)[:80] or type(error).__name__})") from None
    return given if plain else shrunk(given)
