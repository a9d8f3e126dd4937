"""Several objects photographed as one: pairs, chains and groups, in one outline."""

from collections.abc import Sequence
from math import degrees

import numpy as np

from dravel.core.model import Target
from dravel.core.sky.framing import target_outline
from dravel.core.sky.projection import deproject, project

FARTHEST_DEG = 15.0  # what lies farther apart is nobody's single picture
MOST_LETTERS = 120
TURNS_DEG = range(0, 180, 3)
LONGER = (1.001, 1.01, 1.02, 1.05, 1.1, 1.15, 1.2, 1.3, 1.45)  # the ellipse's length over that of what it takes in


def together(members: Sequence[Target]) -> Target | None:
    """One target whose outline takes in those of all members; None for fewer than two, or for members too far apart.

    Of the ellipses around all outlines the one whose axes together are shortest. Source: geometry, by trial.
    """
    members = list(dict.fromkeys(members))
    if len(members) < 2:
        return None
    places = np.radians([(member.ra_deg, member.dec_deg) for member in members])
    vectors = np.column_stack(
        [np.cos(places[:, 1]) * np.cos(places[:, 0]), np.cos(places[:, 1]) * np.sin(places[:, 0]), np.sin(places[:, 1])]
    )
    middle = vectors.mean(axis=0)
    middle /= np.linalg.norm(middle)
    if not np.degrees(np.arccos(np.clip(vectors @ middle, -1, 1))).max() <= FARTHEST_DEG / 2:
        return None
    ra0, dec0 = degrees(np.arctan2(middle[1], middle[0])) % 360, degrees(np.arcsin(middle[2]))
    sky = np.vstack([target_outline(member) for member in members])
    x, y = project(sky[:, 0], sky[:, 1], ra0, dec0)

    best: tuple[float, ...] | None = None
    for turn in TURNS_DEG:
        sine, cosine = np.sin(np.radians(turn)), np.cos(np.radians(turn))
        along, across = x * sine + y * cosine, x * cosine - y * sine
        u, v = (along.min() + along.max()) / 2, (across.min() + across.max()) / 2
        least = float(along.max() - along.min()) / 2
        for longer in LONGER:
            major = least * longer
            minor = float((np.abs(across - v) / np.sqrt(1 - ((along - u) / major) ** 2)).max())
            # Both axes count alike: least area would make a chain half as long again as it is.
            if minor <= major and (best is None or major + minor < best[0]):
                best = (major + minor, turn, major, minor, u * sine + v * cosine, u * cosine - v * sine)
    if best is None:
        return None
    _, turned, major, minor, east, north = best
    ra, dec = deproject(east, north, ra0, dec0)
    return Target(
        name=_name(members),
        aliases=tuple(dict.fromkeys(alias for member in members for alias in member.aliases))[:60],
        ra_deg=float(ra),
        dec_deg=float(dec),
        major_arcmin=round(major * 120, 1),
        minor_arcmin=round(minor * 120, 1),
        position_angle_deg=float(turned),
        size_source=f"round {len(members)} members",
        size_doubtful=any(member.size_doubtful for member in members),
        kind=members[0].kind,
    )


def _name(members: Sequence[Target]) -> str:
    """The members' names, as far as a name may be long."""
    whole = " / ".join(member.name for member in members)
    return whole if len(whole) <= MOST_LETTERS else f"{members[0].name} and {len(members) - 1} more"[:MOST_LETTERS]
