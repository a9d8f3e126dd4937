"""Why this rig and not another: what is said of a chosen rig, and of the whole answer."""

from collections.abc import Iterator

import numpy as np

from dravel.core.design import axes
from dravel.core.design.answer import Reason
from dravel.core.design.axes import Scores
from dravel.core.design.conflict import nearest
from dravel.core.design.front import Evaluator, Outcome, judged
from dravel.core.design.likeness import changes_of, differs
from dravel.core.design.request import RigRequest
from dravel.core.design.screen import Mask
from dravel.core.design.trains import Train
from dravel.core.model import Mount, Rig
from dravel.core.model.words import Text, Value, Words, joined, text

GAIN_FIT, GAIN_SPEED = 0.05, 1.3  # what somebody notices: a twentieth of the target-months, a third more speed
GOOD_SHARE, POOR = 0.9, 0.5
LONGER = 1.25
BORROW_OVER = 2.0
LEAST_FIT, LEAST_TIMES, LEAST_KG = 0.02, 1.1, 0.5  # differences worth a word
MOST_BESIDE = 40  # that a rig is held against, the most alike first
FEATURES = {
    "mono": "a mono camera",
    "off_axis": "an off-axis guider",
    "stronger": "a stronger mount",
    "longer": "a longer telescope",
    "larger": "a larger sensor",
}


def of_rig(evaluator: Evaluator, request: RigRequest, row: int, rows: tuple[int, ...]) -> tuple[Reason, ...]:
    """What is said of one rig of a front: why not cheaper, why not longer, what more money buys, what is not worth it yet."""
    said = (cheaper(evaluator, request, row), longer(evaluator, request, row), more(evaluator, request, row, rows))
    return (*(item for item in said if item is not None), *not_yet(evaluator, request, row))


def _allowed(evaluator: Evaluator, request: RigRequest, *without: str) -> Mask:
    masks = {name: mask for name, mask in evaluator.screen.requests(request).items() if name not in without}
    return np.asarray(np.logical_and.reduce(list(masks.values())), dtype=bool)


def new_money(evaluator: Evaluator, row: int) -> float:
    """The new money that a row costs."""
    return float(evaluator.screen.money_c[row]) / 100


def _broken(evaluator: Evaluator, row: int) -> Outcome:
    """What breaks a row, told by the rule itself where it was only foreseen."""
    said = evaluator.said(row)
    if said.problem and not said.reason and said.rig is not None:
        said = judged(said.rig, evaluator.screen.brief.preferences)
    return said


def numbers(evaluator: Evaluator, row: int, said: Outcome) -> Scores:
    """What an assembled row scores, unrounded."""
    screen = evaluator.screen
    train, mount = screen.trains[screen.train[row]], screen.mounts[screen.mount[row]]
    return axes.score(said.whole, train, mount, screen.aims, screen.brief, screen.share)


def _burdens(evaluator: Evaluator, row: int) -> list[Words]:
    screen = evaluator.screen
    train, mount = screen.trains[screen.train[row]], screen.mounts[screen.mount[row]]
    return [*axes.train_burdens(train), *axes.mount_burdens(mount)]


def _likest(evaluator: Evaluator, row: int, among: Mask, *, dearest: bool) -> Iterator[tuple[int, Outcome]]:
    """Rows that differ from a row in fewest places, those of one place first; then by price. A rig that feeds what draws is
    not held against one that feeds nothing.
    """
    screen = evaluator.screen
    rig = evaluator.said(row).whole
    off = differs(screen, rig, filters=True)
    # Another telescope, camera or mount says more than another tripod or battery.
    main = (screen.train != screen.train[row]) | (screen.mount != screen.mount[row])
    fed = np.array([supply is not None for supply in screen.supplies], dtype=bool)
    mask = among & screen.affordable & (off > 0) & (fed[screen.supply] | ~fed[screen.supply[row]])
    rows = np.flatnonzero(mask)
    price = -screen.money_c[rows] if dearest else screen.money_c[rows]
    for item in rows[np.lexsort((price, ~main[rows], off[rows]))][:MOST_BESIDE]:
        said = _broken(evaluator, int(item))
        if said.rig is not None:
            yield int(item), said


def _changed(evaluator: Evaluator, now: Rig, then: Rig) -> Text:
    """Every part in which two rigs differ, in words."""
    changes = changes_of(evaluator, now, then, filters=True)
    return joined("; ", changes) if changes else text("other parts of yours")


def _worse(evaluator: Evaluator, one: int, other: int, a: Scores, b: Scores) -> list[Words]:
    """What one rig is worse at than another, in words, each number as it is."""
    phrases: list[Words] = []
    if a.fit < b.fit - LEAST_FIT:
        phrases.append(text("{fit} fewer target-months", fit=Value(b.fit - a.fit, form="share")))
    if a.speed > 0 and b.speed / a.speed >= LEAST_TIMES:
        phrases.append(text("{speed} integration time", speed=Value(b.speed / a.speed, "×", 1)))
    if a.mass_kg > b.mass_kg + LEAST_KG:
        phrases.append(text("{mass_kg} heavier", mass_kg=Value(a.mass_kg - b.mass_kg, "kg", 1)))
    more = [word for word in _burdens(evaluator, one) if word not in _burdens(evaluator, other)]
    if a.ease < b.ease and more:
        phrases.append(text("adds {more}", more=_and(more)))
    return phrases


def _and(words: list[Words]) -> Words:
    return (
        words[0]
        if len(words) == 1
        else text("{words} and {words_2}", words=joined(", ", words[:-1]), words_2=words[-1])
    )


def cheaper(evaluator: Evaluator, request: RigRequest, row: int) -> Reason | None:
    """The cheaper rig most like this one that frames as much: the rule that breaks it, or what it is worse at."""
    screen, steps = evaluator.screen, evaluator.screen.steps
    if screen.money_c[row] <= 0:
        return None
    title, now = "Why not cheaper?", evaluator.said(row)
    own = numbers(evaluator, row, now)
    less = _allowed(evaluator, request) & (steps[:, 0] < steps[row, 0]) & (steps[:, 2] <= steps[row, 2])
    for near, said in _likest(evaluator, row, less, dearest=True):
        saved = new_money(evaluator, row) - new_money(evaluator, near)
        words = text(
            "{evaluator}: {saved} less, same framing score",
            evaluator=_changed(evaluator, now.whole, said.whole),
            saved=Value(saved, digits=0),
        )
        if said.problem:
            words += text(
                ", but problem {problem}: {lower}. {reason}",
                problem=said.problem,
                lower=said.title.lower(),
                reason=said.reason,
            )
            return Reason(key="cheaper", title=title, words=words)
        lacks = _worse(evaluator, near, row, numbers(evaluator, near, said), own)
        if lacks:
            return Reason(
                key="cheaper",
                title=title,
                words=text("{words}, but {lacks}.", words=words, lacks=_and(lacks)),
                row=near,
            )
    return Reason(key="cheaper", title=title, words="No cheaper rig has the same framing score.")


def longer(evaluator: Evaluator, request: RigRequest, row: int) -> Reason | None:
    """What the longer telescope does that differs least from this rig, or the rule that breaks it."""
    screen = evaluator.screen
    focal = np.array([train.focal_mm for train in screen.trains])
    here = focal[screen.train[row]]
    now = evaluator.said(row)
    allowed = _allowed(evaluator, request, "targets") & (focal[screen.train] > here * LONGER)
    title = "Why not longer?"
    for at, said in _likest(evaluator, row, allowed, dearest=False):
        a, b = numbers(evaluator, at, said), numbers(evaluator, row, now)
        words = text(
            "{evaluator}: {focal} instead of {here}",
            evaluator=_changed(evaluator, now.whole, said.whole),
            focal=Value(focal[screen.train[at]], "mm", 0),
            here=Value(here, digits=0),
        )
        if said.problem:
            words += text(
                ", but problem {problem}: {lower}. {reason}",
                problem=said.problem,
                lower=said.title.lower(),
                reason=said.reason,
            )
            return Reason(key="longer", title=title, words=words)
        if a.fit > b.fit + LEAST_FIT:
            words += text(", {fit} more target-months", fit=Value(a.fit - b.fit, form="share"))
        lacks = _worse(evaluator, at, row, a, b)
        costs = a.money - b.money
        lacks += [text("{costs} more expensive", costs=Value(costs, digits=0))] if costs >= 1 else []
        words += text(", but {lacks}.", lacks=_and(lacks)) if lacks else "."
        return Reason(key="longer", title=title, words=words, row=at)
    return None


def named(said: Outcome) -> str:
    """What an assembled rig is called."""
    return said.rig.name if said.rig is not None else "rig"


def more(evaluator: Evaluator, request: RigRequest, row: int, rows: tuple[int, ...]) -> Reason | None:
    """The next rig of the front that costs more and is better at what counts: what comes, and what it gains."""
    screen, steps = evaluator.screen, evaluator.screen.steps
    dearer = [
        other for other in rows
        if steps[other, 0] > steps[row, 0] and _gain(evaluator, row, other)[0]
    ]  # fmt: skip
    if not dearer:
        return None
    near = min(dearer, key=lambda other: (screen.money_c[other], other))
    said, now = evaluator.said(near), evaluator.said(row)
    if said.rig is None or now.rig is None:
        return None
    money = new_money(evaluator, near) - new_money(evaluator, row)
    words = text(
        "{changes}: {gains}.", changes=_changed(evaluator, now.rig, said.rig), gains=_gain(evaluator, row, near)[1]
    )
    return Reason(
        key="more", title=text("What would {money} more buy?", money=Value(money, digits=0)), words=words, row=near
    )


def _gain(evaluator: Evaluator, row: int, other: int) -> tuple[bool, Words]:
    """Whether another rig is noticeably better at fit or speed, and in words what it gains and loses."""
    own, then = numbers(evaluator, row, evaluator.said(row)), numbers(evaluator, other, evaluator.said(other))
    faster = then.speed >= own.speed * GAIN_SPEED
    good = then.fit >= own.fit + GAIN_FIT or faster
    return good and then.fit > own.fit - GAIN_FIT and then.speed * GAIN_SPEED > own.speed, gained(then, own)


def not_yet(evaluator: Evaluator, request: RigRequest, row: int) -> Iterator[Reason]:
    """Something to spend on that gains next to nothing: the rig that differs least from this one and has it, and stands."""
    now = evaluator.said(row)
    own = numbers(evaluator, row, now)
    for feature in FEATURES:
        if _has(evaluator, row, feature):
            continue
        dearer = (
            _allowed(evaluator, request, "money", "targets")
            & evaluator.screen.works
            & (evaluator.screen.money_c > evaluator.screen.money_c[row])
        )
        having = np.array(
            [_has_train(train, evaluator.screen.whole(row).train, feature) for train in evaluator.screen.trains],
            dtype=bool,
        )
        mounts = np.array(
            [_is_stronger(mount, evaluator.screen.whole(row).mount) for mount in evaluator.screen.mounts], dtype=bool
        )
        mask = dearer & (mounts[evaluator.screen.mount] if feature == "stronger" else having[evaluator.screen.train])
        best = next(((at, said) for at, said in _likest(evaluator, row, mask, dearest=False) if not said.problem), None)
        if best is None:
            continue
        at, said = best
        then = numbers(evaluator, at, said)
        if then.fit - own.fit >= GAIN_FIT or then.speed >= own.speed * GAIN_SPEED:
            continue
        words = text(
            "{feature}. {changed}: {money} more, and {then}.",
            feature=FEATURES[feature],
            changed=_changed(evaluator, now.whole, said.whole),
            money=Value(then.money - own.money, digits=0),
            then=gained(then, own),
        )
        yield Reason(key="not_yet", title="Not worth it yet:", words=words, row=at)
        return


def gained(then: Scores, own: Scores) -> Text:
    """What is gained and lost, each number as it is."""
    lines = []
    if abs(then.fit - own.fit) >= LEAST_FIT:
        lines.append(
            text(
                "{fit} {which} target-months",
                fit=Value(abs(then.fit - own.fit), form="share"),
                which="more" if then.fit > own.fit else "less",
            )
        )
    if then.speed > 0 and not 1 / LEAST_TIMES < own.speed / then.speed < LEAST_TIMES:
        lines.append(
            text("same depth in {speed} of the integration time", speed=Value(own.speed / then.speed, form="share"))
        )
    if abs(then.mass_kg - own.mass_kg) > LEAST_KG:
        more = "more" if then.mass_kg > own.mass_kg else "less"
        lines.append(
            text("{mass_kg} {more} to carry", mass_kg=Value(abs(then.mass_kg - own.mass_kg), "kg", 1), more=more)
        )
    return joined(", ", lines) if lines else text("no noticeable gain")


def _is_stronger(one: Mount, other: Mount) -> bool:
    return one.payload_kg > 1.2 * other.payload_kg


def _has_train(one: Train, other: Train, feature: str) -> bool:
    if feature == "mono":
        return one.mono
    if feature == "off_axis":
        return one.method == "off_axis"
    if feature == "longer":
        return one.focal_mm > LONGER * other.focal_mm
    return one.diagonal_mm > LONGER * other.diagonal_mm


def _has(evaluator: Evaluator, row: int, feature: str) -> bool:
    """Whether a rig has a feature already."""
    item = evaluator.screen.whole(row)
    return item.train.mono if feature == "mono" else feature == "off_axis" and item.train.method == "off_axis"


def of_answer(evaluator: Evaluator, request: RigRequest, rows: tuple[int, ...]) -> tuple[Reason, ...]:
    """What is said of the whole answer: nothing to buy, or what a little more money would change, and what holds back."""
    lines = []
    if rows:
        own = nothing_to_buy(evaluator, rows)
        if own is not None:
            lines.append(own)
        elif request.money is not None:
            short = with_more(evaluator, request, rows)
            lines += [short] if short is not None else []
    return (*lines, *holds_back(evaluator, request, rows))


def nothing_to_buy(evaluator: Evaluator, rows: tuple[int, ...]) -> Reason | None:
    """Outcome where a rig out of parts at hand does nearly what the best of the front does."""
    steps = evaluator.screen.steps
    best = min(int(steps[row, 2]) for row in rows)
    own = [row for row in rows if evaluator.screen.money_c[row] == 0 and steps[row, 2] <= best * GOOD_SHARE]
    if not own:
        return None
    row = min(own, key=lambda item: (steps[item, 2], steps[item, 3]))
    words = text(
        "The {row} from your own parts already frames these: {steps}, best possible {best}.",
        row=named(evaluator.said(row)),
        steps=Value(-int(steps[row, 2]) * axes.FIT_STEP, form="share"),
        best=Value(-best * axes.FIT_STEP, form="share"),
    )
    return Reason(key="nothing", title="Buy nothing:", words=words, row=row)


def with_more(evaluator: Evaluator, request: RigRequest, rows: tuple[int, ...]) -> Reason | None:
    """Outcome where this money frames little: from how much on more is framed."""
    steps = evaluator.screen.steps
    best = -min(int(steps[row, 2]) for row in rows) * axes.FIT_STEP
    if best >= POOR:
        return None
    enough = _allowed(evaluator, request, "money") & (steps[:, 2] <= -round(min(2 * best, GOOD_SHARE) / axes.FIT_STEP))
    result = nearest(evaluator, enough, request)
    if result is None:
        return None
    row, said = result
    words = text(
        "At most {best} of target-months within budget. The nearest with {steps} is the {said} for {evaluator}{court_2}.",
        best=Value(best, form="share"),
        steps=Value(-int(steps[row, 2]) * axes.FIT_STEP, form="share"),
        said=named(said),
        evaluator=Value(new_money(evaluator, row), digits=0),
        court_2=_borrow(new_money(evaluator, row), request),
    )
    return Reason(key="more_money", title="Limited by budget:", words=words, row=row)


def _borrow(money: float, request: RigRequest) -> str:
    """Advice where the gap is wide."""
    return (
        ": rent or borrow one first, to see whether it is what you want"
        if request.money and money > BORROW_OVER * request.money
        else ""
    )


def nearest_words(evaluator: Evaluator, request: RigRequest, row: int, said: Outcome) -> Text:
    """What is said where nothing can be had for the money: the nearest."""
    money = new_money(evaluator, row)
    return text(
        "The nearest is the {said} for {money} {currency}{money_2}.",
        said=named(said),
        money=Value(money, digits=0),
        currency=request.currency,
        money_2=_borrow(money, request),
    )


def holds_back(evaluator: Evaluator, request: RigRequest, rows: tuple[int, ...]) -> Iterator[Reason]:
    """The one part that stays and costs most of what could be framed, where it costs anything worth telling."""
    screen, steps = evaluator.screen, evaluator.screen.steps
    best = min((int(steps[row, 2]) for row in rows), default=0)
    every = _allowed(evaluator, request) & screen.works
    worst: tuple[int, int, str] | None = None
    for key in request.stays:
        name = next((part.name for part in screen.table.shop.parts if part.id == key), key)
        freed = _allowed(evaluator, request, f"stays: {name}") & screen.works & ~every
        rows_freed = np.flatnonzero(freed)
        gain = best - int(steps[rows_freed, 2].min()) if len(rows_freed) else 0
        if gain * axes.FIT_STEP >= GAIN_FIT and (worst is None or (gain, len(rows_freed)) > worst[:2]):
            worst = (gain, len(rows_freed), name)
    if worst is None:
        return
    gain, many, name = worst
    words = text(
        "the {name}. Without it {many} more combinations are possible, and up to {gain} more target-months.",
        name=name,
        many=Value(many),
        gain=Value(gain * axes.FIT_STEP, form="share"),
    )
    yield Reason(key="holds_back", title="Limiting constraint:", words=words)
