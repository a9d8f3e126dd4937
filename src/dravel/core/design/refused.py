"""Why a part that stays leaves no rig: the rule that breaks whatever is built on it, and the smallest change that lifts it."""

from collections import Counter

import numpy as np

from dravel.core.design.answer import Reason
from dravel.core.design.front import Court
from dravel.core.design.paths import Choice, Paths
from dravel.core.design.wish import Wish
from dravel.core.engine.context import Context
from dravel.core.model import Part
from dravel.core.model.words import Words, text
from dravel.core.steps import STEPS

MOST_TRIED = 60  # combinations that are looked into
STAYS = "stays: "


def refused(court: Court, wish: Wish, name: str) -> Reason | None:
    """Why nothing stands with a part that stays, by the name of the wish; None for other wishes, or where nothing was built."""
    if not name.startswith(STAYS):
        return None
    shop = court.screen.table.shop
    part = next((one for one in shop.parts if one.id in wish.stays and one.name == name.removeprefix(STAYS)), None)
    if part is None:
        return None
    words = _of_paths(court, part) or _of_rigs(court, part)
    return Reason(key="refused", title=text("Why not with the {part}?", part=part.name), words=words) if words else None


def _of_paths(court: Court, part: Part) -> Words:
    """The rule of Glass or Spacing that light paths with the part break most often, with an example and what mends it."""
    screen = court.screen
    if any(part.id in one.keys for one in screen.trains):
        return ""
    shop, brief = screen.table.shop, screen.brief
    paths = Paths(shop, brief)
    own = [one for one in paths.choices() if any(other is part or other.id == part.id for other in one.parts)]
    if not own:
        return ""
    able = [one for one in own if paths.may_work(one)]
    if not able:
        return "No spacers connect it to a camera, or there is no room for its corrector."
    found: Counter[str] = Counter()
    shown: dict[str, tuple[Choice, Context, str]] = {}
    for choice in able[:MOST_TRIED]:
        context = paths.context_of(choice)
        if context is None:
            continue
        for code, judgement in paths.broken(context)[:1]:
            found[code] += 1
            shown.setdefault(code, (choice, context, f"{judgement.title}. {judgement.reason}"))
    if not found:
        return ""
    code = found.most_common(1)[0][0]
    choice, context, words = shown[code]
    return text(
        "With the {camera}: problem {code}, {words}{context}",
        camera=choice.camera.name,
        code=code,
        words=words,
        context=_mend(context, code, shop.parts),
    )


def _mend(context: Context, code: str, shelf: tuple[Part, ...]) -> Words:
    findings = STEPS.evaluate(context.rig, context.practice, shelf).findings
    mends = [mend for one in findings if one.code == code for mend in one.mends if mend.leads_to == "holds"]
    return text(" Fix: {label}.", label=mends[0].label) if mends else ""


def _of_rigs(court: Court, part: Part) -> Words:
    """The rule that whole rigs with the part break most often."""
    screen = court.screen
    rows = np.flatnonzero(screen.with_part(part.id or ""))
    step = max(1, len(rows) // MOST_TRIED)
    found: Counter[str] = Counter()
    shown: dict[str, str] = {}
    for row in map(int, rows[::step][:MOST_TRIED]):
        said = court.said(row)
        if said.breaks:
            found[said.breaks] += 1
            shown.setdefault(said.breaks, f"{said.title}. {said.reason}".strip())
    if not found:
        return ""
    code, _ = found.most_common(1)[0]
    return text("Most frequent problem with it: {code}, {shown}", code=code, shown=shown[code])
