"""Nights and years: curves of a target, what a night is good for, horizons from text, exports of a framing."""

from typing import Annotated

from fastapi import APIRouter, HTTPException, Query, Request, Response
from pydantic import Field

from dravel.api.deps import PracticeDep, StoreDep
from dravel.api.tonight import ClockDep
from dravel.catalogue.objects import catalogue
from dravel.core.evaluate import weigh
from dravel.core.model import Framing, HorizonPoint, Practice, Rig, Site, Target
from dravel.core.model.base import Evening, Identifier, Model
from dravel.core.sky.curves import NightCurve, NightFacts, YearStrip, night_curve, night_facts, year_strip
from dravel.core.sky.night import night_of
from dravel.core.sky.worth import Worth, rank, rig_for_night
from dravel.formats import framing_files, horizon
from dravel.formats.faults import Fault

router = APIRouter(tags=["sky"])


class TargetNight(Model):
    """A target at a site, neither of which need be kept, on a night."""

    site: Site
    target: Target
    on: Evening | None = None


class NightAnswer(Model):
    """The night and the year of a target."""

    night: NightCurve
    year: YearStrip


class TonightAsked(Model):
    """What a rig's night is good for. Without a site the rig's own counts."""

    rig: Rig
    site: Identifier | None = None
    on: Evening | None = None
    beginner: bool = False
    listed: Annotated[bool, Field(description="Only the user's own targets, not the whole catalogue")] = False


class TonightAnswer(Model):
    """The night, and the best objects of it."""

    facts: NightFacts | None
    best: tuple[Worth, ...] = ()
    because: str = ""


class HorizonAnswer(Model):
    """Points read, and the lines left out."""

    points: tuple[HorizonPoint, ...]
    faults: tuple[tuple[int, Fault], ...]


class Zone(Model):
    """A time zone found from coordinates."""

    timezone: str


@router.post("/sky/night")
def night(given: TargetNight, practice: PracticeDep, clock: ClockDep) -> NightAnswer:
    """Night curve of a target, and its year from tonight on."""
    today = clock(given.site)
    return NightAnswer(
        night=night_curve(given.target, given.site, given.on or today, practice),
        year=year_strip(given.target, given.site, today, practice),
    )


@router.post("/sky/tonight")
def good_for(given: TonightAsked, store: StoreDep, practice: PracticeDep, clock: ClockDep) -> TonightAnswer:
    """The whole catalogue (or the user's own list) ranked for a rig, a site and a night."""
    site = store.sites.get(given.site).body if given.site else given.rig.site
    if site is None:
        return TonightAnswer(facts=None, because="the rig stands at no site yet")
    seen = night_of(site, given.on or clock(site))
    facts = night_facts(seen, practice)
    rig, because = rig_for_night(weigh(given.rig, practice))
    if rig is None:
        return TonightAnswer(facts=facts, because=because)
    targets = tuple(entry.body for entry in store.targets.all()) if given.listed else catalogue().everything()
    return TonightAnswer(facts=facts, best=rank(targets, rig, seen, practice, beginner=given.beginner))


@router.post(
    "/sky/horizon",
    openapi_extra={"requestBody": {"required": True, "content": {"text/plain": {"schema": {"type": "string"}}}}},
)
async def read_horizon(request: Request) -> HorizonAnswer:
    """Read a horizon from two columns of text. Nothing is kept."""
    try:
        text = (await request.body()).decode("utf-8")
    except UnicodeDecodeError as error:
        fault = Fault(field="file", reason=f"is not text in UTF-8: byte {error.start} cannot be read")
        return HorizonAnswer(points=(), faults=((1, fault),))
    points, faults = horizon.read(text)
    return HorizonAnswer(points=points[:360], faults=tuple(faults))


@router.get("/sky/timezone")
def timezone(
    latitude_deg: Annotated[float, Query(ge=-90, le=90)], longitude_deg: Annotated[float, Query(ge=-180, le=180)]
) -> Zone:
    """The time zone at a place, from packaged boundaries."""
    # Imported when first asked: its boundaries are large.
    from timezonefinder import timezone_at

    return Zone(timezone=timezone_at(lng=longitude_deg, lat=latitude_deg) or "UTC")


@router.get("/rigs/{rig_id}/framings/{number}/tiles.csv", response_class=Response,
            responses={200: {"content": {"text/csv": {}}}})  # fmt: skip
def tiles_csv(
    rig_id: str, number: Annotated[int, Field(ge=0, le=199)], store: StoreDep, practice: PracticeDep
) -> Response:
    """Centres of a framing's tiles as CSV."""
    framing, field, _, _ = _framed(store.rigs.get(rig_id).rig, number, practice)
    headers = {"content-disposition": f'attachment; filename="{rig_id}-tiles.csv"'}
    return Response(framing_files.tiles_csv(framing, field), media_type="text/csv; charset=utf-8", headers=headers)


@router.get("/rigs/{rig_id}/framings/{number}/wcs.fits", response_class=Response,
            responses={200: {"content": {"application/fits": {}}}})  # fmt: skip
def wcs_header(
    rig_id: str, number: Annotated[int, Field(ge=0, le=199)], store: StoreDep, practice: PracticeDep,
    tile: Annotated[int, Query(ge=0, le=899)] = 0,
) -> Response:  # fmt: skip
    """A FITS header with the world coordinates of one tile."""
    framing, field, pixels, scale = _framed(store.rigs.get(rig_id).rig, number, practice)
    try:
        text = framing_files.fits_header(framing, tile, pixels, scale, field)
    except IndexError as error:
        raise HTTPException(404, str(error)) from None
    headers = {"content-disposition": f'attachment; filename="{rig_id}-tile-{tile + 1}.fits"'}
    return Response(text.encode("ascii"), media_type="application/fits", headers=headers)


def _framed(rig: Rig, number: int, practice: Practice) -> tuple[Framing, tuple[float, float], tuple[int, int], float]:
    known = weigh(rig, practice).known
    if number >= len(rig.framings):
        raise HTTPException(404, f"this rig frames no target {number}")
    for name in ("field_width", "field_height", "pixel_scale"):
        if name not in known:
            raise HTTPException(422, f"the field cannot be computed: {known.why_not(name)}")
    camera = next(item.part for item in rig.path if item.part.kind == "camera")
    pixels = camera.sensor.width_px // rig.binning, camera.sensor.height_px // rig.binning
    field = known.value("field_width"), known.value("field_height")
    return rig.framings[number], field, pixels, known.value("pixel_scale")
