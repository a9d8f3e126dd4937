"""Carrying: the heaviest single lift, how many trips on foot, what fits in a case and on a plane."""

from dataclasses import dataclass

from dravel.core.model import Preferences, Rig
from dravel.core.model.words import Value, Words, text
from dravel.core.steps.mount.bodies import Carried


@dataclass(frozen=True)
class Piece:
    """Something lifted in one go, kg."""

    name: str
    mass_kg: float


def pieces(rig: Rig, carried: Carried) -> tuple[Piece, ...]:
    """What is lifted one by one: the tube with all that rides on it, the head, the support, each weight, the battery."""
    result = [Piece("tube with everything on it", carried.mass)] if carried.bodies else []
    if rig.mount is not None:
        result.append(Piece(rig.mount.name, (rig.mount.used("mass_g") or 0.0) / 1000))
    if rig.support is not None:
        result.append(Piece(rig.support.name, (rig.support.used("mass_g") or 0.0) / 1000))
    result += [Piece(hung.part.name, (hung.part.used("mass_g") or 0.0) / 1000) for hung in rig.counterweights]
    off = [placed.part for placed in rig.riders if placed.off_at_night]
    loose = [*off, *rig.extras, *rig.supply.cables, *([rig.supply.source] if rig.supply.source else [])]
    result += [Piece(part.name, (part.used("mass_g") or 0.0) / 1000) for part in loose if part.used("mass_g")]
    return tuple(sorted(result, key=lambda piece: -piece.mass_kg))


def trips(found: tuple[Piece, ...], limit_kg: float) -> tuple[tuple[Piece, ...], ...]:
    """Loads to carry, each under a limit where it can be: first fit, heaviest first. A heavier piece goes alone."""
    loads: list[list[Piece]] = []
    for piece in found:
        for load in loads:
            if sum(item.mass_kg for item in load) + piece.mass_kg <= limit_kg + 1e-9:
                load.append(piece)
                break
        else:
            loads.append([piece])
    return tuple(tuple(load) for load in loads)


def cased(rig: Rig, carried: Carried, preferences: Preferences) -> tuple[Words, ...]:
    """What each case among the extras makes of the tube: fits or not, and its mass against the flight limit."""
    tube = next((body for body in carried.bodies if body.kind == "telescope"), None)
    lines = []
    for case in rig.extras:
        if case.function != "case" or tube is None:
            continue
        inner = sorted(side for side in (case.length_mm, case.width_mm, case.height_mm) if side is not None)
        if len(inner) < 3:
            lines.append(text("{case}: its inner size is not given", case=case.name))
            continue
        need = sorted((tube.length, tube.diameter, tube.diameter))
        room = all(side <= has for side, has in zip(need, inner, strict=True))
        mass = tube.mass_kg + (case.used("mass_g") or 0.0) / 1000
        flies = "within" if mass <= preferences.flight_kg else "over"
        fits = (
            "takes the tube"
            if room
            else text(
                "is too small for the tube ({length} {diameter})",
                length=Value(tube.length, "×", 0),
                diameter=Value(tube.diameter, "mm", 0),
            )
        )
        lines.append(
            text(
                "{case} {fits}; {mass} with it, {flies} the flight limit of {flight_kg}",
                case=case.name,
                fits=fits,
                mass=Value(mass, "kg", 1),
                flies=flies,
                flight_kg=Value(preferences.flight_kg, "kg", 0),
            )
        )
    return tuple(lines)
