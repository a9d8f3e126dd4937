"""The moon and the bright planets as targets: where they stand and how large they are on a night."""

from collections.abc import Iterable
from datetime import date
from typing import get_args

import numpy as np

from dravel.core.model import Body, Framing, Rig, Site, Target
from dravel.core.sky.altaz import frame_of
from dravel.core.sky.bodies import MOON_RADIUS_KM, moon_place, planet, planet_diameter_arcsec, vectors_of
from dravel.core.sky.night import TWILIGHT_SUN, Night, along, night_of
from dravel.core.sky.projection import deproject, project

BODIES: tuple[Body, ...] = get_args(Body)
_NOWHERE = Site(name="the Earth's middle", latitude_deg=0, longitude_deg=0)


def moment_for(body: Body, night: Night) -> float:
    """When a body stands highest after dusk and before dawn, UTC Julian date; planets need no darkness."""
    vectors = vectors_of(body, night.jd, night.site.latitude_deg, night.site.longitude_deg, night.site.elevation_m)
    up = along(vectors, night.jd, night.site.latitude_deg, night.site.longitude_deg, night.frame)[0]
    allowed = night.sun_altitude < TWILIGHT_SUN
    return float(night.jd[int(np.argmax(np.where(allowed, up, up - 180)))])


def body_at(body: Body, jd_utc: float, site: Site | None = None) -> Target:
    """A body as a target: ICRS place and size at a time, from a site (the moon) or the Earth's middle."""
    at = np.array([jd_utc])
    frame = frame_of(at)
    if body == "Moon":
        seen = site or _NOWHERE
        vectors, distance = moon_place(at, seen.latitude_deg, seen.longitude_deg, seen.elevation_m)
        ra, dec = frame.icrs(vectors)
        size = float(np.degrees(2 * np.arcsin(MOON_RADIUS_KM / distance[0]))) * 60
    else:
        vectors, away = planet(body, at)
        ra = np.degrees(np.arctan2(vectors[:, 1], vectors[:, 0])) % 360
        dec = np.degrees(np.arcsin(vectors[:, 2]))
        size = float(planet_diameter_arcsec(body, away)[0]) / 60
    return Target(
        id=body.lower(), name=body, ra_deg=round(float(ra[0]), 5) % 360, dec_deg=round(float(dec[0]), 5),
        major_arcmin=round(size, 4), minor_arcmin=round(size, 4), body=body,
    )  # fmt: skip


def bodies_on(night: Night) -> tuple[Target, ...]:
    """The moon and the planets, each where it stands when it is highest in that night."""
    return tuple(body_at(body, moment_for(body, night), night.site) for body in BODIES)


def placed(target: Target, night: Night) -> Target:
    """The target as it stands on a night: itself, unless it is a moon or planet."""
    if target.body is None:
        return target
    there = body_at(target.body, moment_for(target.body, night), night.site)
    moves = ("ra_deg", "dec_deg", "major_arcmin", "minor_arcmin")
    return target.model_copy(update={name: getattr(there, name) for name in moves})


def followed(framing: Framing, night: Night) -> Framing:
    """The framing with its target where it stands on the night, and the frame's centre moved along with it."""
    target = placed(framing.target, night)
    if target is framing.target:
        return framing
    x, y = project(framing.centre_ra_deg, framing.centre_dec_deg, framing.target.ra_deg, framing.target.dec_deg)
    if not np.isfinite(x) or not np.isfinite(y):
        x = y = np.zeros(())
    ra, dec = deproject(x, y, target.ra_deg, target.dec_deg)
    return framing.model_copy(update={"target": target, "centre_ra_deg": float(ra) % 360, "centre_dec_deg": float(dec)})


def of_date(rig: Rig, tonight: date | None) -> Rig:
    """The rig with its moving targets where they stand on their nights; itself when it has none."""
    if all(framing.target.body is None for framing in rig.framings):
        return rig
    return rig.model_copy(update={"framings": tuple(_of_date(rig.framings, rig.site or _NOWHERE, tonight))})


def _of_date(framings: Iterable[Framing], site: Site, tonight: date | None) -> Iterable[Framing]:
    for framing in framings:
        day = framing.night or tonight
        yield framing if day is None else followed(framing, night_of(site, day))
