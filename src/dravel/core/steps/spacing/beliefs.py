"""What is often believed of back focus, and what a rig's own numbers say of it."""

from collections.abc import Iterator

from dravel.core.engine.context import Context
from dravel.core.model import Belief

HABIT_MM = 55.0  # a camera body's 44 and a ring's 11: common practice


def beliefs(context: Context) -> Iterator[Belief]:
    """That back focus is 55 mm, where it is not."""
    asked, required = context.known.get("asked"), context.known.get("required")
    correctors = context.light.correctors
    if asked is None or required is None or not correctors or abs(required - HABIT_MM) < 0.05:
        return
    glass, last = required - asked, correctors[-1]
    table = " at this focal length" if last.back_focus_table else ""
    words = f"55 is a camera body's 44 and a ring's 11. The {last.name} asks for {asked:g} mm{table}"
    words += f"; the filter's glass adds {glass:.1f}: {required:.1f} mm." if abs(glass) >= 0.05 else "."
    yield Belief(key="fifty_five", step="spacing", belief="Back focus is 55 mm.", words=words)
