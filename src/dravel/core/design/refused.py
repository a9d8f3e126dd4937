"""Why a part that stays leaves no rig: the rule that breaks whatever is built on it, and the smallest change that lifts it."""

from collections import Counter

import numpy as np

from dravel.core.design.answer import Reason
from dravel.core.design.front import Evaluator
from dravel.core.design.paths import Choice, Paths
from dravel.core.design.request import RigRequest
from dravel.core.engine.context import Context
from dravel.core.model import Part
from dravel.core.model.words import Words, text
from dravel.core.steps import STEPS

MOST_TRIED = 60  # combinations that are looked into
STAYS = "stays: "


def refused(evaluator: Evaluator, request: RigRequest, name: str) -> Reason | None:
    """Why nothing stands with a part that stays, by the name of the request; None for other requests, or where nothing was built."""
    if not name.startswith(STAYS):
        return None
    shop = evaluator.screen.table.shop
    part = next(
        (item for item in shop.parts if item.id in request.stays and item.name == name.removeprefix(STAYS)), None
    )
    if part is None:
        return None
    words = _of_paths(evaluator, part) or _of_rigs(evaluator, part)
    return Reason(key="refused", title=text("Why not with the {part}?", part=part.name), words=words) if words else None


def _of_paths(evaluator: Evaluator, part: Part) -> Words:
    """The rule of Glass or Spacing that light paths with the part break most often, with an example and what fixes it."""
    screen = evaluator.screen
    if any(part.id in train.keys for train in screen.trains):
        return ""
    shop, brief = screen.table.shop, screen.brief
    paths = Paths(shop, brief)
    own = [item for item in paths.choices() if any(other is part or other.id == part.id for other in item.parts)]
    if not own:
        return ""
    able = [item for item in own if paths.may_work(item)]
    if not able:
        return "No spacers connect it to a camera, or there is no room for its corrector."
    result: Counter[str] = Counter()
    shown: dict[str, tuple[Choice, Context, str]] = {}
    for choice in able[:MOST_TRIED]:
        context = paths.context_of(choice)
        if context is None:
            continue
        for code, judgement in paths.broken(context)[:1]:
            result[code] += 1
            shown.setdefault(code, (choice, context, f"{judgement.title}. {judgement.reason}"))
    if not result:
        return ""
    code = result.most_common(1)[0][0]
    choice, context, words = shown[code]
    return text(
        "With the {camera}: problem {code}, {words}{context}",
        camera=choice.camera.name,
        code=code,
        words=words,
        context=_fix(context, code, shop.parts),
    )


def _fix(context: Context, code: str, shelf: tuple[Part, ...]) -> Words:
    findings = STEPS.evaluate(context.rig, context.preferences, shelf).findings
    fixes = [fix for finding in findings if finding.code == code for fix in finding.fixes if fix.leads_to == "ok"]
    return text(" Fix: {label}.", label=fixes[0].label) if fixes else ""


def _of_rigs(evaluator: Evaluator, part: Part) -> Words:
    """The rule that whole rigs with the part break most often."""
    screen = evaluator.screen
    rows = np.flatnonzero(screen.with_part(part.id or ""))
    step = max(1, len(rows) // MOST_TRIED)
    result: Counter[str] = Counter()
    shown: dict[str, str] = {}
    for row in map(int, rows[::step][:MOST_TRIED]):
        said = evaluator.said(row)
        if said.problem:
            result[said.problem] += 1
            shown.setdefault(said.problem, f"{said.title}. {said.reason}".strip())
    if not result:
        return ""
    code, _ = result.most_common(1)[0]
    return text("Most frequent problem with it: {code}, {shown}", code=code, shown=shown[code])
