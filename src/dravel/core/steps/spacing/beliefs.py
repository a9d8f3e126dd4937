"""What is often believed of back focus, and what a rig's own numbers say of it."""

from collections.abc import Iterator

from dravel.core.engine.context import Context
from dravel.core.model import Belief
from dravel.core.model.words import Value, text

HABIT_MM = 55.0  # a camera body's 44 and a ring's 11: common practice


def beliefs(context: Context) -> Iterator[Belief]:
    """That back focus is 55 mm, where it is not."""
    asked, required = context.known.get("asked"), context.known.get("required")
    correctors = context.light.correctors
    if asked is None or required is None or not correctors or abs(required - HABIT_MM) < 0.05:
        return
    glass, last = required - asked, correctors[-1]
    table = " at this focal length" if last.back_focus_table else ""
    words = text(
        "55 mm is a camera body (44) plus a T-ring (11). The {last} requires {asked}{table}",
        last=last.name,
        asked=Value(asked, "mm"),
        table=table,
    )
    words += (
        text(
            "; filter glass adds {glass}: {required}.", glass=Value(glass, digits=1), required=Value(required, "mm", 1)
        )
        if abs(glass) >= 0.05
        else "."
    )
    yield Belief(key="fifty_five", step="spacing", belief="Back focus is 55 mm.", words=words)
