"""Light frames in FITS: what the header claims, and the picture as numbers. What is no frame is refused in words.

Reads 8, 16, 32 bit and floating, with or without BZERO, tile-compressed, one plane or three, mosaics of colour.
"""

import math
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from dravel.core.frames.claims import FrameClaims
from dravel.core.sky.projection import deproject

LARGEST_PIXELS = 110_000_000
LARGEST_BYTES = 1_300_000_000
LARGEST_HEADER = 2_880 * 400  # a header longer than any camera writes
LEAST_SIDE = 64
START = b"SIMPLE  ="
# The names a fact goes by in headers, the usual one first.
NAMES: dict[str, tuple[str, ...]] = {
    "exposure_s": ("EXPTIME", "EXPOSURE", "EXPOINUS"),
    "gain": ("GAIN", "GAINADU", "ISO", "ISOSPEED"),
    "electrons_adu": ("EGAIN",),
    "set_c": ("SET-TEMP", "SETTEMP"),
    "sensor_c": ("CCD-TEMP", "CCDTEMP", "SENSTEMP"),
    "pixel_um": ("XPIXSZ", "PIXSIZE1", "PIXSIZE"),
    "focal_mm": ("FOCALLEN", "FOCAL"),
    "binning": ("XBINNING", "BINNING", "BINX"),
    "offset_adu": ("PEDESTAL", "BLKLEVEL"),
    "focus": ("FOCUSPOS", "FOCPOS"),
}
WORDS = {"filter": ("FILTER", "FILTER1"), "target": ("OBJECT",), "camera": ("INSTRUME", "CAMERA"),
         "at": ("DATE-OBS", "DATE-BEG"), "mosaic": ("BAYERPAT", "COLORTYP", "CFAIMAGE")}  # fmt: skip
PATTERNS = ("RGGB", "BGGR", "GRBG", "GBRG")


class NotAFrame(ValueError):
    """The file is no light frame that can be read, and why."""


@dataclass(frozen=True)
class Frame:
    """A frame: its picture, (height, width), of a colour picture the green plane; which pixels of a mosaic are green; where its scale
    ends; what its header claims.
    """

    data: NDArray[np.float32]
    green: "NDArray[np.bool_] | None"
    full: float
    claims: FrameClaims
    notes: tuple[str, ...] = field(default=())


def read(path: Path) -> Frame:
    """A light frame from a file. Raises `NotAFrame` with the reason; memory stays within some three times the picture's floats."""
    try:
        size = path.stat().st_size
        if not path.is_file():
            raise NotAFrame("this is no plain file")
        with path.open("rb") as held:
            begins = held.read(len(START))
    except OSError as error:
        raise NotAFrame(f"it cannot be opened: {error.strerror or error}") from None
    if size > LARGEST_BYTES:
        raise NotAFrame(f"{size / 1e9:.1f} GB is larger than any frame")
    if begins != START:
        raise NotAFrame("this is no FITS file: it does not begin as one")
    return _opened(path)


def _opened(path: Path) -> Frame:
    import warnings

    from astropy.io import fits  # here: only what reads frames pays for it
    from astropy.utils.exceptions import AstropyWarning

    with warnings.catch_warnings():
        warnings.simplefilter("ignore", AstropyWarning)
        try:
            with fits.open(path, memmap=False, lazy_load_hdus=True, ignore_missing_simple=False) as held:
                picture = _picture_in(held)
                header = dict(_cards(picture.header))
                _sized(picture)
                data = picture.data
        except NotAFrame:
            raise
        except MemoryError:
            raise NotAFrame("the picture needs more memory than there is") from None
        except Exception as error:  # the library tells what is wrong with a file in exceptions of many kinds
            words = str(error).split("\n")[0][:200] or type(error).__name__
            raise NotAFrame(f"damaged, or cut short: {words}") from None
    return _framed(data, header)


def _picture_in(held: Any) -> Any:
    """The first part of a file that holds a picture."""
    for number in range(12):
        try:
            part = held[number]
        except IndexError:
            break
        if len(str(part.header)) > LARGEST_HEADER:
            raise NotAFrame("its header is longer than any camera writes")
        if getattr(part, "is_image", False) and part.header.get("NAXIS", 0) >= 2:
            return part
    raise NotAFrame("it holds no picture")


def _sized(part: Any) -> None:
    """Looked at before anything is unpacked: what a header promises may be far more than the file holds."""
    shape = tuple(int(item) for item in part.shape)
    if len(shape) not in (2, 3) or (len(shape) == 3 and shape[0] not in (1, 3)):
        raise NotAFrame(f"a picture has one plane or three; this is {' × '.join(map(str, shape))}")
    if int(np.prod(shape, dtype=np.int64)) > LARGEST_PIXELS:
        raise NotAFrame(f"{np.prod(shape, dtype=np.int64) / 1e6:.0f} million values are more than any frame")
    if min(shape[-2:]) < LEAST_SIDE:
        raise NotAFrame(f"{shape[-1]} × {shape[-2]} pixels are too few to measure stars on")


def _cards(header: Any) -> list[tuple[str, Any]]:
    """Keywords and values, those that cannot be read left out."""
    results = []
    for key in list(header)[:4000]:
        try:
            results.append((str(key), header[key]))
        except Exception:  # a card that is broken says nothing
            continue
    return results


def _framed(data: Any, header: dict[str, Any]) -> Frame:
    if data is None:
        raise NotAFrame("its picture is empty")
    claims, notes = _claims(header), []
    full = _full(data, header)
    picture = np.asarray(data[data.shape[0] // 2] if data.ndim == 3 else data)
    values = np.array(picture, dtype=np.float32, copy=True)
    if data.ndim == 3 and data.shape[0] == 3:
        notes.append("three planes: the green one is measured")
    bad = ~np.isfinite(values)
    if bad.any():
        if bad.mean() > 0.2:
            raise NotAFrame(f"{bad.mean():.0%} of it are no numbers")
        values[bad] = np.float32(np.median(values[~bad][:: max(1, values.size // 1_000_000)]))
        notes.append(f"{int(bad.sum()):,} pixels are not numbers and were replaced by the sky")
    low, high = float(values.min()), float(values.max())
    if low == high:
        raise NotAFrame("all of it is the same value" + (": nothing was read out" if low == 0 else ""))
    if np.mean(values[::7, ::7] >= 0.98 * full) > 0.5:
        raise NotAFrame("more than half of it is saturated")
    green = None
    if data.ndim == 2 and claims.mosaic in PATTERNS:
        green = np.zeros(values.shape, dtype=bool)
        first = claims.mosaic.index("G")
        green[0::2, first::2] = True
        green[1::2, 1 - first :: 2] = True
    return Frame(values, green, full, claims, tuple(notes))


def _full(data: Any, header: dict[str, Any]) -> float:
    """Where the scale ends: as the header says, else by the kind of number and what the picture reaches."""
    said = _number(header.get("SATURATE"))
    if said is not None and said > 0:
        return said
    finite = np.asarray(data)[np.isfinite(data)] if np.asarray(data).dtype.kind == "f" else np.asarray(data)
    if finite.size == 0:
        raise NotAFrame("100% of it are no numbers")
    top = float(finite.max())
    kind = np.asarray(data).dtype
    if kind.kind in "iu" and kind.itemsize <= 2:
        # Cameras of 12 and 14 bits write their own counts or shifted ones: a top that many pixels reach is the end.
        return top if np.count_nonzero(np.asarray(data) >= top) > 20 else float(np.iinfo(np.uint16).max)
    return top if top > 1.5 else 1.0


def _claims(header: dict[str, Any]) -> FrameClaims:
    answer: dict[str, Any] = {}
    for name, keys in NAMES.items():
        answer[name] = next((result for key in keys if (result := _number(header.get(key))) is not None), None)
    for name, keys in WORDS.items():
        word = next((str(header[key]) for key in keys if isinstance(header.get(key), str) and header[key].strip()), "")
        answer[name] = word.strip()[:120]
    if (
        answer["exposure_s"] is not None
        and "EXPTIME" not in header
        and "EXPOSURE" not in header
        and "EXPOINUS" in header
    ):
        answer["exposure_s"] /= 1e6
    answer["mosaic"] = answer["mosaic"].upper() if answer["mosaic"].upper() in PATTERNS else ""
    return FrameClaims(**answer, simulated=header.get("SIMULATE") is True, **_pointing(header), **_near(header))


def _near(header: dict[str, Any]) -> dict[str, float]:
    """Where the mount believed to point, degrees: numbers as they are, or hours and degrees written with their parts."""
    for ra_key, dec_key in (("RA", "DEC"), ("OBJCTRA", "OBJCTDEC")):
        ra, dec = _angle(header.get(ra_key), 15.0), _angle(header.get(dec_key), 1.0)
        if ra is not None and dec is not None and 0 <= ra <= 360 and abs(dec) <= 90:
            return {"near_ra_deg": ra, "near_dec_deg": dec}
    return {}


def _angle(value: Any, by: float) -> float | None:
    """A number of degrees, or a text of hours or degrees, minutes and seconds, of which one is `by` degrees."""
    if (plain := _number(value)) is not None:
        return plain
    parts = [_number(item) for item in str(value or "").replace(":", " ").split()]
    if not 2 <= len(parts) <= 3 or any(part is None for part in parts):
        return None
    size = float(sum(abs(item or 0.0) / 60.0**k for k, item in enumerate(parts)))
    return by * size * (-1 if str(value).strip().startswith("-") else 1)


def _pointing(header: dict[str, Any]) -> dict[str, float]:
    """Pixel scale, rotation and centre by the header's own WCS, where it has one. Source: Greisen & Calabretta 2002."""
    lines = [_number(header.get(f"CD{i}_{j}")) for i in (1, 2) for j in (1, 2)]
    if any(item is None for item in lines):
        steps = [_number(header.get(f"CDELT{i}")) for i in (1, 2)]
        if any(step is None for step in steps) or "CTYPE1" not in header:
            return {}
        turned = math.radians(_number(header.get("CROTA2")) or 0.0)
        turn = [_number(header.get(f"PC{i}_{j}")) for i in (1, 2) for j in (1, 2)]
        if any(item is None for item in turn):
            turn = [math.cos(turned), -math.sin(turned), math.sin(turned), math.cos(turned)]
        lines = [(steps[k // 2] or 0.0) * (turn[k] or 0.0) for k in range(4)]
    a, b, c, d = (item or 0.0 for item in lines)
    area = abs(a * d - b * c)
    if not 1e-12 < area < 1:
        return {}
    result = {
        "scale_arcsec": round(math.sqrt(area) * 3600, 5),
        "rotation_deg": round(math.degrees(math.atan2(b, d)) % 360, 3),
    }
    at = [_number(header.get(key)) for key in ("CRVAL1", "CRVAL2")]
    if at[0] is not None and at[1] is not None and 0 <= at[0] <= 360 and abs(at[1]) <= 90:
        # The reference pixel may lie anywhere; without one it is taken for the middle.
        off = [
            (size + 1) / 2 - pixel if size and pixel is not None else 0.0
            for size, pixel in ((_number(header.get(f"NAXIS{i}")), _number(header.get(f"CRPIX{i}"))) for i in (1, 2))
        ]
        ra, dec = deproject(a * off[0] + b * off[1], c * off[0] + d * off[1], at[0], at[1])
        result["centre_ra_deg"], result["centre_dec_deg"] = round(float(ra), 6), round(float(dec), 6)
    return result


def _number(value: Any) -> float | None:
    """A finite number, also where it was written as text."""
    if isinstance(value, bool) or value is None:
        return None
    try:
        result = float(value)
    except (TypeError, ValueError):
        return None
    return result if math.isfinite(result) else None
