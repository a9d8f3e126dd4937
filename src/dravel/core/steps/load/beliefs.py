"""What is often believed of payload, and what a rig's own numbers say of it."""

from collections.abc import Iterator

from dravel.core.engine.context import Context
from dravel.core.model import Belief
from dravel.core.steps.load.facts import Load
from dravel.core.steps.load.limits import SHAKE
from dravel.core.steps.load.wind_felt import felt_and_too_much


def beliefs(context: Context) -> Iterator[Belief]:
    """That within the payload is well: where the tube is wide or long, or the wind shakes it."""
    mount, carried, shake = context.rig.mount, context.known.get("carried"), context.known.get("shake_px")
    if mount is None or carried is None or carried > mount.payload_kg or shake is None:
        return
    wise, tube = context.of(Load).derating
    if wise >= 1 and SHAKE.verdict(shake) == "holds":
        return
    felt, much = felt_and_too_much(context)
    words = (
        f"{carried:.1f} of {mount.payload_kg:g} kg, and {context.value('wind_area'):.2f} m² across the wind: "
        f"{shake:.1f} px of shake at {context.value('wind'):.0f} m/s"
    )
    if felt is not None and much is not None:
        words += f", felt from {felt:.0f}, too much from {much:.0f}"
    words += f". A {tube} is not a short refractor of the same mass." if wise < 1 else "."
    yield Belief(key="within_payload", step="load", belief="Within the payload, so it is fine.", words=words)
