"""A rig's framings: earlier ones recalled; taken out as tile centres, a FITS header, the hop card."""

from typing import Annotated, Literal

from fastapi import APIRouter, HTTPException, Query, Response
from pydantic import Field

from dravel.api.deps import PreferencesDep, StoreDep
from dravel.api.files import a_file
from dravel.api.tonight import Clock, ClockDep
from dravel.catalogue.star_names import star_names
from dravel.catalogue.stars import stars
from dravel.core.model import Framing, Preferences, Rig
from dravel.core.sky.hop import hop_card
from dravel.core.sky.moving import of_date
from dravel.core.sky.recall import EarlierFraming, earlier
from dravel.core.steps import STEPS
from dravel.formats import framing_files, hop_sheet
from dravel.store import Store

router = APIRouter(tags=["sky"])


@router.get("/rigs/{rig_id}/earlier-framings")
def earlier_framings(
    rig_id: str, target: Annotated[str, Query(min_length=1, max_length=120)], store: StoreDep
) -> tuple[EarlierFraming, ...]:
    """How the rig framed a target (by id or name) in earlier revisions, newest first."""
    return earlier(store.rigs.framings(rig_id), target)


@router.get("/rigs/{rig_id}/framings/{number}/tiles.csv", response_class=Response,
            responses={200: {"content": {"text/csv": {}}}})  # fmt: skip
def tiles_csv(
    rig_id: str,
    number: Annotated[int, Field(ge=0, le=199)],
    store: StoreDep,
    preferences: PreferencesDep,
    clock: ClockDep,
) -> Response:
    """Centres of a framing's tiles as CSV."""
    framing, field, _, _ = _framed(_tonight(store, rig_id, clock), number, preferences)
    return a_file(framing_files.tiles_csv(framing, field), "text/csv; charset=utf-8", f"{rig_id}-tiles.csv")


@router.get("/rigs/{rig_id}/framings/{number}/wcs.fits", response_class=Response,
            responses={200: {"content": {"application/fits": {}}}})  # fmt: skip
def wcs_header(
    rig_id: str, number: Annotated[int, Field(ge=0, le=199)], store: StoreDep, preferences: PreferencesDep,
    clock: ClockDep,
    tile: Annotated[int | None, Query(ge=0, le=899)] = None,
) -> Response:  # fmt: skip
    """A FITS file without data, with the world coordinates of one tile or, when none is named, of all."""
    framing, field, pixels, scale = _framed(_tonight(store, rig_id, clock), number, preferences)
    try:
        text = framing_files.fits_headers(framing, pixels, scale, field, tile)
    except IndexError as error:
        raise HTTPException(404, str(error)) from None
    name = f"{rig_id}-{'tiles' if tile is None else f'tile-{tile + 1}'}.fits"
    return a_file(text.encode("ascii"), "application/fits", name)


@router.get("/rigs/{rig_id}/framings/{number}/hop-card.{form}", response_class=Response,
            responses={200: {"content": {"image/svg+xml": {}, "application/pdf": {}}}})  # fmt: skip
def hop(
    rig_id: str, number: Annotated[int, Field(ge=0, le=199)], form: Literal["svg", "pdf"], store: StoreDep,
    preferences: PreferencesDep, clock: ClockDep, field_deg: Annotated[float | None, Query(ge=0.2, le=15)] = None,
) -> Response:  # fmt: skip
    """The way from a bright star to the target, in steps of a finder's field or of the frame's shorter side."""
    framing, field, _, _ = _framed(_tonight(store, rig_id, clock), number, preferences)
    listed = stars()
    steps = field_deg if field_deg is not None else min(15.0, max(0.2, min(field)))
    try:
        card = hop_card(framing.target, steps, listed.ra, listed.dec, listed.mag, star_names())
    except ValueError as error:
        raise HTTPException(422, str(error)) from None
    shown = listed.around(card.middle_ra_deg, card.middle_dec_deg, min(30.0, card.radius_deg * 1.42), limit=1200)
    if form == "svg":
        return Response(hop_sheet.as_svg(card, shown), media_type="image/svg+xml")
    return a_file(hop_sheet.as_pdf(card, shown), "application/pdf", f"{rig_id}-hop-card.pdf", shown="inline")


def _tonight(store: Store, rig_id: str, clock: Clock) -> Rig:
    rig = store.rigs.get(rig_id).rig
    return of_date(rig, clock(rig.site))


def _framed(
    rig: Rig, number: int, preferences: Preferences
) -> tuple[Framing, tuple[float, float], tuple[int, int], float]:
    known = STEPS.context(rig, preferences).known
    if number >= len(rig.framings):
        raise HTTPException(404, f"this rig frames no target {number}")
    for name in ("field_width", "field_height", "pixel_scale"):
        if name not in known:
            raise HTTPException(422, f"the field cannot be computed: {known.why_not(name)}")
    camera = next(item.part for item in rig.path if item.part.kind == "camera")
    pixels = camera.sensor.width_px // rig.binning, camera.sensor.height_px // rig.binning
    field = known.value("field_width"), known.value("field_height")
    return rig.framings[number], field, pixels, known.value("pixel_scale")
