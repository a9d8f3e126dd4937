"""Why this rig and not another: what is said of a chosen rig, and of the whole answer."""

from collections.abc import Iterator

import numpy as np

from dravel.core.design import axes
from dravel.core.design.answer import Reason
from dravel.core.design.conflict import nearest
from dravel.core.design.front import Court, Said, front, judged
from dravel.core.design.screen import Ints, Mask
from dravel.core.design.wish import Wish
from dravel.core.model import Rig
from dravel.core.model.inventory import parts_of

GAIN_FIT, GAIN_SPEED = 0.05, 1.3  # what somebody notices: a twentieth of the target-months, a third more speed
GOOD_SHARE, POOR = 0.9, 0.5
LONGER = 1.25
BORROW_OVER = 2.0
FEATURES = ("a mono camera", "an off-axis guider", "a stronger mount", "a longer telescope", "a larger sensor")


def of_rig(court: Court, wish: Wish, row: int, rows: tuple[int, ...]) -> tuple[Reason, ...]:
    """What is said of one rig of a front: why not cheaper, why not longer, what more money buys, what is not worth it yet."""
    said = (cheaper(court, wish, row), longer(court, wish, row), more(court, wish, row, rows))
    return (*(one for one in said if one is not None), *not_yet(court, row, rows))


def _allowed(court: Court, wish: Wish, *without: str) -> Mask:
    masks = {name: mask for name, mask in court.screen.wishes(wish).items() if name not in without}
    return np.asarray(np.logical_and.reduce(list(masks.values())), dtype=bool)


def _money(court: Court, row: int) -> float:
    return float(court.screen.money_c[row]) / 100


def _tube(court: Court, row: int) -> str:
    return court.screen.whole(row).train.choice.telescope.name


def _broken(court: Court, row: int) -> Said:
    """What breaks a row, told by the rule itself where it was only foreseen."""
    said = court.said(row)
    if said.breaks and not said.reason and said.rig is not None:
        said = judged(said.rig, court.screen.brief.practice)
    return said


def cheaper(court: Court, wish: Wish, row: int) -> Reason | None:
    """The nearest cheaper rig that frames as much: the rule that breaks it, or what it lacks."""
    screen, steps = court.screen, court.screen.steps
    if screen.money_c[row] <= 0:
        return None
    title = "Why not cheaper?"
    less = _allowed(court, wish) & (steps[:, 0] < steps[row, 0]) & (steps[:, 2] <= steps[row, 2])
    rows = np.flatnonzero(less & screen.affordable)
    if not len(rows):
        return Reason(key="cheaper", title=title, words="Nothing that costs less frames as much.")
    # The one most like it, another telescope or mount before another battery; of those the dearest.
    order = np.lexsort((-screen.money_c[rows], _unlike(court, rows, row)))
    near = int(rows[order[0]])
    said, money = _broken(court, near), f"{_money(court, near):,.0f}"
    name = said.rig.name if said.rig is not None else _tube(court, near)
    if said.breaks:
        words = f"At {money} the {name} frames as much, but breaks {said.breaks}: {said.title.lower()}."
        return Reason(key="cheaper", title=title, words=f"{words} {said.reason}".strip())
    lacks = _against(court, near, row) or "is no better else"
    return Reason(key="cheaper", title=title, words=f"At {money} the {name} frames as much, but {lacks}.", row=near)


def _unlike(court: Court, rows: Ints, row: int) -> Ints:
    screen = court.screen
    train, mount = screen.train[rows] != screen.train[row], screen.mount[rows] != screen.mount[row]
    beside = (screen.support[rows] != screen.support[row]).astype(np.int64) + (
        screen.supply[rows] != screen.supply[row]
    )
    return np.asarray(3 * beside + train + mount + 9 * (~train & ~mount))


def _against(court: Court, one: int, other: int) -> str:
    """What one rig is worse at than another, in words."""
    a, b = court.screen.steps[one], court.screen.steps[other]
    told = []
    if a[1] > b[1]:
        told.append(f"weighs {(court.screen.grams[one] - court.screen.grams[other]) / 1000:.1f} kg more")
    if a[3] > b[3]:
        told.append(f"takes {(1 + axes.SPEED_STEP) ** int(a[3] - b[3]):.1f} × the hours")
    if a[4] > b[4]:
        told.append("asks for more skill")
    if a[2] > b[2]:
        told.append(f"frames {int(a[2] - b[2]) * axes.FIT_STEP:.0%} less")
    return " and ".join(told)


def longer(court: Court, wish: Wish, row: int) -> Reason | None:
    """What a longer telescope for the money would frame, or the rule that breaks it."""
    screen = court.screen
    focal = np.array([one.focal_mm for one in screen.trains])
    here = focal[screen.train[row]]
    allowed = _allowed(court, wish, "targets") & (focal[screen.train] > here * LONGER)
    found = next(front(court, allowed & screen.works, wish), None)
    title = "Why not longer?"
    if found is None:
        rows = np.flatnonzero(allowed & screen.affordable & ~screen.works)
        if not len(rows):
            return None
        near = int(rows[np.argmin(focal[screen.train[rows]])])
        said = _broken(court, near)
        if not said.breaks or said.rig is None:
            return None
        return Reason(
            key="longer",
            title=title,
            words=f"The {said.rig.name} breaks {said.breaks}: {said.title.lower()}. {said.reason}".strip(),
        )
    at, said = found
    if screen.steps[at, 2] < screen.steps[row, 2]:
        lacks = _against(court, at, row)
        words = f"The {_named(said)} frames more of your targets{f', but {lacks}' if lacks else ''}; it costs {_money(court, at):,.0f}."
    else:
        lacks = _against(court, at, row) or "frames no more of them"
        words = f"At {focal[screen.train[at]]:,.0f} mm the {_named(said)} {lacks}."
    return Reason(key="longer", title=title, words=words, row=at)


def _named(said: Said) -> str:
    return said.rig.name if said.rig is not None else "rig"


def more(court: Court, wish: Wish, row: int, rows: tuple[int, ...]) -> Reason | None:
    """The next rig of the front that costs more and is better at what counts: what comes, and what it gains."""
    screen, steps = court.screen, court.screen.steps
    dearer = [
        other for other in rows
        if steps[other, 0] > steps[row, 0] and _gain(court, row, other)[0]
    ]  # fmt: skip
    if not dearer:
        return None
    near = min(dearer, key=lambda other: (screen.money_c[other], other))
    said, now = court.said(near), court.said(row)
    if said.rig is None or now.rig is None:
        return None
    money = _money(court, near) - _money(court, row)
    comes = _comes(now.rig, said.rig)
    words = f"{comes[0].upper()}{comes[1:]}: {_gain(court, row, near)[1]}."
    return Reason(key="more", title=f"What would {money:,.0f} more buy?", words=words, row=near)


def _gain(court: Court, row: int, other: int) -> tuple[bool, str]:
    """Whether another rig is noticeably better at fit or speed, and in words what it gains and loses."""
    steps = court.screen.steps
    fit = float(steps[row, 2] - steps[other, 2]) * axes.FIT_STEP
    speed = (1 + axes.SPEED_STEP) ** float(steps[row, 3] - steps[other, 3])
    told = []
    if fit >= GAIN_FIT:
        told.append(f"{fit:.0%} more of the target-months framed and sampled well")
    if speed >= GAIN_SPEED:
        told.append(f"the same depth in {1 / speed:.0%} of the hours")
    good = bool(told) and fit > -GAIN_FIT and speed > 1 / GAIN_SPEED
    if steps[other, 1] > steps[row, 1]:
        told.append(f"{(court.screen.grams[other] - court.screen.grams[row]) / 1000:.1f} kg more to carry")
    return good, ", ".join(told) or "nothing that anybody would notice"


def _comes(now: Rig, then: Rig) -> str:
    """What comes in with another rig: its dearest new parts."""
    had = {part.id for part in parts_of(now)}
    new = [one for one in parts_of(then) if one.id not in had]
    new.sort(key=lambda part: -(part.price.amount if part.price else 0.0))
    names = list(dict.fromkeys(part.name for part in new))[:3]
    return f"the {' and the '.join(names)}" if names else "other parts of yours"


def not_yet(court: Court, row: int, rows: tuple[int, ...]) -> Iterator[Reason]:
    """Things to spend on that gain next to nothing: the cheapest rig of the front with each, held against this one."""
    for feature in FEATURES:
        if _has(court, row, row, feature):
            continue
        dearer = [
            other for other in rows if _money(court, other) > _money(court, row) and _has(court, other, row, feature)
        ]
        if not dearer:
            continue
        best = max(
            dearer,
            key=lambda other: (
                -court.screen.steps[other, 2] - court.screen.steps[other, 3],
                -court.screen.money_c[other],
            ),
        )
        steps = court.screen.steps
        fit = float(steps[row, 2] - steps[best, 2]) * axes.FIT_STEP
        if fit >= GAIN_FIT or (1 + axes.SPEED_STEP) ** float(steps[row, 3] - steps[best, 3]) >= GAIN_SPEED:
            continue
        money = _money(court, best) - _money(court, row)
        gained = _gain(court, row, best)[1]
        yield Reason(
            key="not_yet",
            title="Not worth it yet:",
            words=f"{feature}. The best rig with one costs {money:,.0f} more: {gained}.",
            row=best,
        )
        return


def _has(court: Court, row: int, base: int, feature: str) -> bool:
    screen = court.screen
    one, other = screen.whole(row), screen.whole(base)
    if feature == "a mono camera":
        return one.train.mono
    if feature == "an off-axis guider":
        return one.train.method == "off_axis"
    if row == base:
        return False
    if feature == "a stronger mount":
        return one.mount.payload_kg > 1.2 * other.mount.payload_kg
    if feature == "a longer telescope":
        return one.train.focal_mm > LONGER * other.train.focal_mm
    return one.train.diagonal_mm > LONGER * other.train.diagonal_mm


def of_answer(court: Court, wish: Wish, rows: tuple[int, ...]) -> tuple[Reason, ...]:
    """What is said of the whole answer: nothing to buy, or what a little more money would change, and what holds back."""
    told = []
    if rows:
        own = nothing_to_buy(court, rows)
        if own is not None:
            told.append(own)
        elif wish.money is not None:
            short = with_more(court, wish, rows)
            told += [short] if short is not None else []
    return (*told, *holds_back(court, wish, rows))


def nothing_to_buy(court: Court, rows: tuple[int, ...]) -> Reason | None:
    """Said where a rig out of parts at hand does nearly what the best of the front does."""
    steps = court.screen.steps
    best = min(int(steps[row, 2]) for row in rows)
    own = [row for row in rows if court.screen.money_c[row] == 0 and steps[row, 2] <= best * GOOD_SHARE]
    if not own:
        return None
    row = min(own, key=lambda one: (steps[one, 2], steps[one, 3]))
    words = f"The {_named(court.said(row))} out of your own parts frames these already: {-int(steps[row, 2]) * axes.FIT_STEP:.0%} against {-best * axes.FIT_STEP:.0%} at best."
    return Reason(key="nothing", title="Buy nothing:", words=words, row=row)


def with_more(court: Court, wish: Wish, rows: tuple[int, ...]) -> Reason | None:
    """Said where this money frames little: from how much on more is framed."""
    steps = court.screen.steps
    best = -min(int(steps[row, 2]) for row in rows) * axes.FIT_STEP
    if best >= POOR:
        return None
    enough = _allowed(court, wish, "money") & (steps[:, 2] <= -round(min(2 * best, GOOD_SHARE) / axes.FIT_STEP))
    found = nearest(court, enough, wish)
    if found is None:
        return None
    row, said = found
    words = f"It frames {best:.0%} of the target-months at best. The nearest that frames {-int(steps[row, 2]) * axes.FIT_STEP:.0%} is the {_named(said)} for {_money(court, row):,.0f}{_borrow(_money(court, row), wish)}."
    return Reason(key="more_money", title="Little with this money:", words=words, row=row)


def _borrow(money: float, wish: Wish) -> str:
    """Advice where the gap is wide."""
    return (
        ": rent or borrow one first, to see whether it is what you want"
        if wish.money and money > BORROW_OVER * wish.money
        else ""
    )


def nearest_words(court: Court, wish: Wish, row: int, said: Said) -> str:
    """What is said where nothing can be had for the money: the nearest."""
    money = _money(court, row)
    return f"The nearest is the {_named(said)} for {money:,.0f} {wish.currency}{_borrow(money, wish)}."


def holds_back(court: Court, wish: Wish, rows: tuple[int, ...]) -> Iterator[Reason]:
    """The one part that stays and costs most of what could be framed, where it costs anything worth telling."""
    screen, steps = court.screen, court.screen.steps
    best = min((int(steps[row, 2]) for row in rows), default=0)
    every = _allowed(court, wish) & screen.works
    worst: tuple[int, int, str] | None = None
    for key in wish.stays:
        name = next((part.name for part in screen.table.shop.parts if part.id == key), key)
        freed = _allowed(court, wish, f"stays: {name}") & screen.works & ~every
        rows_freed = np.flatnonzero(freed)
        gain = best - int(steps[rows_freed, 2].min()) if len(rows_freed) else 0
        if gain * axes.FIT_STEP >= GAIN_FIT and (worst is None or (gain, len(rows_freed)) > worst[:2]):
            worst = (gain, len(rows_freed), name)
    if worst is None:
        return
    gain, many, name = worst
    words = f"the {name}. Without it {many:,} more combinations stand open, and up to {gain * axes.FIT_STEP:.0%} more of the target-months."
    yield Reason(key="holds_back", title="What holds you back:", words=words)
