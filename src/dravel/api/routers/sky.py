"""The sky: search the catalogue, draw a patch, frame a target."""

from datetime import UTC, datetime, time
from typing import Annotated, Literal

from fastapi import APIRouter, Query
from pydantic import Field

from dravel.api.deps import PreferencesDep, StoreDep
from dravel.api.tonight import ClockDep
from dravel.catalogue.nebulae import milky_way
from dravel.catalogue.objects import catalogue
from dravel.catalogue.stars import FAINTEST, stars
from dravel.core.model import Framing, Rig, Target
from dravel.core.model.base import WHOLE, Document, Model, Quantity
from dravel.core.model.words import Text
from dravel.core.sky.altaz import julian
from dravel.core.sky.framing import centred
from dravel.core.sky.moving import BODIES, body_at
from dravel.core.sky.projection import lines_within, project
from dravel.core.sky.together import together
from dravel.core.steps import STEPS
from dravel.core.steps.aim.view import Footprint, Point, as_listed, moved, outline, reshaped, see

router = APIRouter(tags=["sky"])
MOST_TOGETHER = 12
Ra = Annotated[float, Query(ge=0, le=360)]
Dec = Annotated[float, Query(ge=-90, le=90)]


class SkyPatchObject(Model):
    """A catalogue object on the patch."""

    name: str
    kind: str
    at: Point
    outline: tuple[Point, ...]
    major_arcmin: float | None


class SkyPatch(Model):
    """Stars (x east, y north in degrees on the tangent plane; magnitude) and objects around a point."""

    ra_deg: float
    dec_deg: float
    radius_deg: float
    faintest: float
    stars: tuple[tuple[float, float, float], ...]
    objects: tuple[SkyPatchObject, ...]
    milky_way: tuple[tuple[Point, ...], ...]


class SkyView(Model):
    """The middle of the patch that footprints are drawn on."""

    ra_deg: Annotated[float, Quantity("Right ascension", "°", 0, 360)]
    dec_deg: Annotated[float, Quantity("Declination", "°", -90, 90)]


OnPlane = Annotated[float, Field(ge=-60, le=60)]


class OutlineDrawn(Model):
    """An end of the target's outline drawn to a point of the patch."""

    end: Literal["major", "minor"]
    to: tuple[OnPlane, OnPlane]


class FootprintAsked(Document):
    """A framing to draw: which of the rig's, on which patch, moved to which point of it, beside which other rigs."""

    rig: Rig
    framing: Annotated[int, Field(ge=0, le=199), WHOLE] = 0
    view: Annotated[SkyView | None, Field(description="Without one, around the target as it stands that night")] = None
    move_to: tuple[OnPlane, OnPlane] | None = None
    outline: OutlineDrawn | None = None
    others: Annotated[tuple[str, ...], Field(max_length=12)] = ()


class OtherFootprint(Model):
    """Another rig's field at the same place."""

    rig_id: str
    name: str
    footprint: Footprint


class FootprintAnswer(Model):
    """The framing drawn, or why it cannot be."""

    footprint: Footprint | None
    others: tuple[OtherFootprint, ...]
    view: SkyView | None = None
    listed: Annotated[Target | None, Field(description="The target with the list's size, where it has another")] = None
    because: Text = Text("")


class FramingWanted(Model):
    """A target to frame with a rig."""

    rig: Rig
    target: Target


@router.get("/sky/search")
def search(
    q: Annotated[str, Query(max_length=80)], clock: ClockDep, limit: Annotated[int, Query(ge=1, le=100)] = 20
) -> list[Target]:
    """Catalogue objects by any alias; the moon and planets by name, where they stand tonight.

    Several names, as in ``M81/M82``, give one target whose outline takes all of them in, and each of them after it.
    """
    word = q.strip().lower()
    named = [body for body in BODIES if len(word) >= 2 and body.lower().startswith(word)]
    evening = julian(datetime.combine(clock(None), time(22), UTC))
    members = catalogue().members(q)[:MOST_TOGETHER]
    group = together(members)
    bodies = [body_at(body, evening) for body in named]
    return [*bodies, *([group, *members] if group else []), *catalogue().search(q, limit)][:limit]


@router.get("/sky/patch")
def patch(ra_deg: Ra, dec_deg: Dec, radius_deg: Annotated[float, Query(gt=0, le=30)]) -> SkyPatch:
    """Stars and objects within a radius of a point."""
    results = []
    for target in catalogue().around(ra_deg, dec_deg, radius_deg, limit=24):
        x, y = project(target.ra_deg, target.dec_deg, ra_deg, dec_deg)
        results.append(
            SkyPatchObject(
                name=target.name,
                kind=target.kind,
                at=(float(x), float(y)),
                outline=outline(target, ra_deg, dec_deg, 32),
                major_arcmin=target.major_arcmin,
            )
        )
    rows = stars().around(ra_deg, dec_deg, radius_deg, limit=2500).round(4).tolist()
    # Numbers of our own making: checking thousands of them again would cost more than finding them.
    return SkyPatch.model_construct(
        ra_deg=ra_deg,
        dec_deg=dec_deg,
        radius_deg=radius_deg,
        faintest=FAINTEST,
        stars=tuple(tuple(row) for row in rows),
        objects=tuple(results),
        milky_way=tuple(lines_within(milky_way(), ra_deg, dec_deg, radius_deg)),
    )


@router.post("/sky/footprint")
def footprint(given: FootprintAsked, store: StoreDep, preferences: PreferencesDep, clock: ClockDep) -> FootprintAnswer:
    """A rig's framing as polygons on a patch, with what it takes in; the moon and planets where they stand that night."""
    context = STEPS.context(given.rig, preferences, tonight=clock(given.rig.site))
    field = context.field_deg
    if given.framing >= len(given.rig.framings):
        return FootprintAnswer(footprint=None, others=(), because="the rig frames no such target")
    if field is None:
        return FootprintAnswer(footprint=None, others=(), because=context.known.why_not("field_width"))
    framing = context.rig.framings[given.framing]
    view = given.view or SkyView(ra_deg=framing.target.ra_deg, dec_deg=framing.target.dec_deg)
    if given.move_to is not None:
        framing = moved(framing, *given.move_to, view.ra_deg, view.dec_deg)
    if given.outline is not None and framing.target.body is None:
        drawn_to = reshaped(framing.target, given.outline.end, given.outline.to, view.ra_deg, view.dec_deg)
        framing = framing.model_copy(update={"target": drawn_to})
    others = []
    for rig_id in given.others:
        record = store.rigs.get(rig_id)
        theirs = STEPS.context(record.rig, preferences).field_deg
        if theirs is not None:
            single = framing.model_copy(update={"columns": 1, "rows": 1})
            drawn = see(single, theirs, view.ra_deg, view.dec_deg)
            others.append(OtherFootprint(rig_id=rig_id, name=record.rig.name, footprint=drawn))
    return FootprintAnswer(
        footprint=see(framing, field, view.ra_deg, view.dec_deg), others=tuple(others), view=view,
        listed=_as_listed(framing.target),
    )  # fmt: skip


def _as_listed(target: Target) -> Target | None:
    """A target with the size its list gives it now, where it has another; None for targets no list knows."""
    try:
        return as_listed(target, catalogue().get(target.name))
    except KeyError:
        return None


@router.post("/sky/framing")
def new_framing(given: FramingWanted, preferences: PreferencesDep) -> Framing:
    """The framing a target starts with on a rig: centred, along whichever side needs fewer tiles."""
    return centred(given.target, STEPS.context(given.rig, preferences).field_deg, preferences)
