"""What is often believed of payload, and what a rig's own numbers say of it."""

from collections.abc import Iterator

from dravel.core.engine.context import Context
from dravel.core.model import Belief
from dravel.core.model.words import Value, text
from dravel.core.steps.mount.facts import Load
from dravel.core.steps.mount.limits import SHAKE
from dravel.core.steps.mount.wind_felt import felt_and_too_much


def beliefs(context: Context) -> Iterator[Belief]:
    """That within the payload is well: where the tube is wide or long, or the wind shakes it."""
    mount, carried, shake = context.rig.mount, context.known.get("carried"), context.known.get("shake_px")
    if mount is None or carried is None or carried > mount.payload_kg or shake is None:
        return
    wise, tube = context.of(Load).derating
    if wise >= 1 and SHAKE.verdict(shake) == "ok":
        return
    felt, much = felt_and_too_much(context)
    words = text(
        "{carried} of {payload_kg}, but {wind_area} across the wind: vibration {shake} at {wind}",
        carried=Value(carried, digits=1),
        payload_kg=Value(mount.payload_kg, "kg"),
        wind_area=context.shown("wind_area"),
        shake=Value(shake, "px", 1),
        wind=context.shown("wind"),
    )
    if felt is not None and much is not None:
        words += text(
            ", noticeable from {felt}, too strong from {much}", felt=Value(felt, digits=0), much=Value(much, digits=0)
        )
    words += text(". A {tube} differs from a small refractor of the same mass.", tube=tube) if wise < 1 else "."
    yield Belief(key="within_payload", step="mount", belief="Within the payload, so it is fine.", words=words)
