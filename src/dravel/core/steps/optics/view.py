"""What the Glass step shows: the star on the pixel grid, and every corrector on the shelf beside the others."""

from collections.abc import Iterable
from itertools import pairwise
from math import erf, sqrt

from dravel.core.engine.context import Context
from dravel.core.model import Corrector, PatchOperation, PathItem, Verdict, mates, worst
from dravel.core.model.base import Model
from dravel.core.model.edit import Edit, apply
from dravel.core.model.words import Text, text
from dravel.core.moves.parts import out_of_range
from dravel.core.train.light_path import offered

GRID_PX = 11


class OpticsStarTerm(Model):
    """One contribution to the star's size."""

    name: Text
    fwhm_arcsec: float
    fwhm_px: float


class OpticsStar(Model):
    """A star in the middle of a pixel: flux per pixel, brightest 1, rows from the top; and what it is made of."""

    fwhm_px: float
    fwhm_arcsec: float
    flux: tuple[tuple[float, ...], ...]
    terms: tuple[OpticsStarTerm, ...]


class OpticsOption(Model):
    """The rig with one corrector from the shelf, or with none."""

    part_id: str | None
    label: Text
    status: str
    in_use: bool
    focal_length_mm: float
    focal_ratio: float
    pixel_scale: float
    field_width_deg: float
    field_height_deg: float
    sampling_px: float
    per_pixel_gain: float
    verdict: Verdict
    suits: bool
    remark: Text
    change: tuple[PatchOperation, ...]


class OpticsView(Model):
    """The whole step."""

    star: OpticsStar | None
    options: tuple[OpticsOption, ...]


def optics_view(context: Context) -> OpticsView:
    """Star and options of a rig. Options need a telescope and a camera; without them the list is empty."""
    options = sorted(_options(context), key=lambda option: (not option.suits, option.focal_length_mm))
    return OpticsView(star=_star(context), options=tuple(options))


def pixel_fluxes(fwhm_px: float, size: int = GRID_PX) -> tuple[tuple[float, ...], ...]:
    """Flux of a Gaussian star in each pixel of a (size, size) grid, centred, brightest 1.

    `fwhm_px` is the width before the pixel averages it. Source: integral of a Gaussian over the pixel (erf).
    """
    sigma = max(fwhm_px, 0.05) / 2.3548
    edges = [(i - size / 2) / (sigma * sqrt(2)) for i in range(size + 1)]
    line = [(erf(b) - erf(a)) / 2 for a, b in pairwise(edges)]
    top = max(line)
    return tuple(tuple((a / top) * (b / top) for b in line) for a in line)


def _star(context: Context) -> OpticsStar | None:
    known = context.known
    if "star_fwhm" not in known:
        return None
    scale, total = known.value("pixel_scale"), known.value("star_fwhm")
    names = {
        "seeing": "seeing_at_airmass",
        "diffraction": "diffraction",
        "guiding": "guiding_fwhm",
        "pixel": "pixel_scale",
    }
    terms = [
        OpticsStarTerm(name=name, fwhm_arcsec=known.value(key), fwhm_px=known.value(key) / scale)
        for name, key in names.items()
    ]
    before_pixel = sqrt(max(total**2 - scale**2, 0.0)) / scale
    return OpticsStar(fwhm_px=total / scale, fwhm_arcsec=total, flux=pixel_fluxes(before_pixel), terms=tuple(terms))


def _options(context: Context) -> Iterable[OpticsOption]:
    rig, light = context.rig, context.light
    telescope = light.telescope
    if telescope is None or light.camera is None:
        return
    at = [i for i, item in enumerate(rig.path) if isinstance(item.part, Corrector)]
    behind = next(i for i, item in enumerate(rig.path) if item.part is telescope) + 1
    laid = light.correctors[0] if light.correctors else None
    candidates: list[Corrector | None] = [None, *([laid] if laid else [])]
    for part in context.shelf:
        if not isinstance(part, Corrector) or part.status == "retired" or (laid is not None and part.id == laid.id):
            continue
        if offered(part, telescope):
            candidates.append(part)
    for corrector in candidates:
        removed = tuple(Edit("remove", ("path", index)) for index in reversed(at))
        added = (Edit("add", ("path", behind), PathItem(part=corrector)),) if corrector else ()
        in_use = corrector is laid
        edits = () if in_use else (*removed, *added)
        # A focal length measured on the frame belongs to the corrector that was in the path.
        forget = () if in_use or rig.measured_focal_length_mm is None else (_FORGET,)
        changed = context.changed(apply(rig, edits + forget))
        if "sampling" not in changed.known:
            continue
        outside = corrector and out_of_range(
            corrector, telescope.used("focal_length_mm"), telescope.used("aperture_mm")
        )
        loose = corrector is not None and not mates(telescope.sensor_side, corrector.sky_side)
        yield OpticsOption(
            part_id=corrector.id if corrector else None,
            label=corrector.name if corrector else "no corrector",
            status=corrector.status if corrector else "owned",
            in_use=in_use,
            focal_length_mm=changed.value("focal_length"),
            focal_ratio=changed.value("focal_ratio"),
            pixel_scale=changed.value("pixel_scale"),
            field_width_deg=changed.value("field_width"),
            field_height_deg=changed.value("field_height"),
            sampling_px=changed.value("sampling"),
            per_pixel_gain=changed.value("optics.per_pixel_gain"),
            verdict=worst(said.verdict for _, said in changed.steps.said(changed, "optics")),
            suits=not outside,
            remark=text("outside its range: {outside}", outside=outside)
            if outside
            else "requires an adapter to the telescope"
            if loose
            else "",
            change=tuple(edit.operation() for edit in edits + forget),
        )


_FORGET = Edit("replace", ("measured_focal_length_mm",), None)
