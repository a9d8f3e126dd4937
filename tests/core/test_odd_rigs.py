"""Whatever a user can own, type or import is answered in words: odd rigs through evaluation, views and command line.

A rig is drawn from a number: parts of the shelf in any order, any optional dimension missing, readings at the ends of
their ranges, no mount, no shaft, no saddle, no camera, weights without a shaft, a fixed tripod. Nothing is asked of the
verdicts here but that they come.
"""

import random
from datetime import date
from math import isfinite
from typing import Any, get_args

import numpy as np
import pytest
from pydantic import ValidationError
from typer.testing import CliRunner

from dravel.catalogue.demo import RIDGE, TERRACE, scenario
from dravel.catalogue.starter_shelf import starter_shelf
from dravel.cli import app
from dravel.core.model import Preferences, Rig
from dravel.core.model.base import Quantity, quantities
from dravel.core.model.gear import part_adapter
from dravel.core.overview.board import board
from dravel.core.overview.compare import compare
from dravel.core.overview.cost import cost
from dravel.core.overview.stages import grow
from dravel.core.overview.strip import lay_out
from dravel.core.overview.swap import swap
from dravel.core.steps import STEPS
from dravel.core.steps.exposure.view import exposure_view
from dravel.core.steps.guiding.view import draw_patch
from dravel.core.steps.spacing.sheet import spacing_sheet
from dravel.formats import rig_file
from dravel.formats.spacing_sheet import as_pdf, as_svg

SHELF = starter_shelf()
SCENARIO = scenario()
RIGS, TARGETS = [rig for _, rig in SCENARIO.rigs], SCENARIO.targets
WREN = RIGS[0]
NIGHT = date(2026, 11, 26)
PATH = [part for part in SHELF if part.kind in ("telescope", "corrector", "adapter", "filter_holder", "camera",
                                                "off_axis_guider", "focuser")]  # fmt: skip
SINGLE = ("telescope", "camera", "focuser")


def _of(kind: str) -> list[Any]:
    return [part for part in SHELF if part.kind == kind]


def _odd(part: Any, dice: random.Random) -> Any:
    """The part with optional things missing, numbers at the ends of their ranges, and readings there."""
    body = part.model_dump()
    for name, field in type(part).model_fields.items():
        optional = field.default is None and type(None) in get_args(field.annotation)
        if optional and dice.random() < 0.25:
            body[name] = None
    numbers = quantities(type(part))
    for name, quantity in numbers.items():
        if body[name] is not None and dice.random() < 0.08:
            body[name] = _end(quantity, dice)
        if dice.random() < 0.04:
            body["measured"][name] = {"value": _end(quantity, dice)}
    if body.get("focuser") and dice.random() < 0.5:
        body["focuser"]["mechanism"] = dice.choice(["drawtube", "helical", "moving_mirror", "lens_cell"])
        body["focuser"]["focal_plane_mm"] = dice.choice([None, 0, 120])
    try:
        return part_adapter.validate_python(body)
    except ValidationError:
        return part


def _end(quantity: Quantity, dice: random.Random) -> float:
    end = dice.choice([quantity.low, quantity.low, quantity.high])
    return (
        int(end)
        if quantity.unit in ("px", "bit", "×") or quantity.title in ("Feet", "Positions", "Driven axes")
        else end
    )


def odd_rig(seed: int) -> Rig:
    """A rig that a save would take, drawn from a number."""
    dice = random.Random(seed)
    if dice.random() < 0.4:
        base = dice.choice(RIGS)
        path = [item.model_copy(update={"part": _odd(item.part, dice)}) for item in base.path if dice.random() < 0.9]
    else:
        base, path = Rig(name="Odd"), []
        kinds = set()
        for part in dice.sample(PATH, dice.randint(0, 9)):
            if part.kind in SINGLE and part.kind in kinds:
                continue
            kinds.add(part.kind)
            path.append({"part": _odd(part, dice).model_dump()})
    maybe = lambda kind: None if dice.random() < 0.2 else _odd(dice.choice(_of(kind)), dice).model_dump()  # noqa: E731
    body = base.model_dump() | {
        "path": [item if isinstance(item, dict) else item.model_dump() for item in path],
        "binning": dice.choice([1, 1, 2, 8]),
        "site": dice.choice([None, RIDGE.model_dump(), TERRACE.model_dump()]),
        "purposes": dice.sample(["wide_field", "nebula", "galaxy", "planetary", "untracked"], dice.randint(0, 2)),
    }
    if dice.random() < 0.7:
        body["mount"], body["support"] = maybe("mount"), maybe("support")
        if body["mount"] and dice.random() < 0.3:
            body["mount"] |= {"shaft": None, "driven_axes": dice.choice([0, 1, 2]), "saddle_height_mm": None}
        body["counterweights"] = [
            {"part": _odd(weight, dice).model_dump(), "position_mm": dice.choice([0, 150, 3000])}
            for weight in dice.sample(_of("counterweight"), dice.randint(0, 2))
        ]
        body["riders"] = [
            {"part": _odd(part, dice).model_dump(), "along_mm": dice.choice([-3000, 0, 90]), "side": dice.choice(["top", "left"]),
             "off_mm": dice.choice([0, 90])}
            for part in dice.sample([p for p in SHELF if p.kind in ("rider", "guide_scope", "dew_heater")], dice.randint(0, 4))
        ]  # fmt: skip
        body["supply"] = {"source": maybe("power_source"), "cables": [_odd(c, dice).model_dump() for c in _of("cable")]}
        body["guide"] = {
            "method": dice.choice(["none", "guide_scope", "off_axis"]),
            "branch": [{"part": _odd(dice.choice(_of("camera")), dice).model_dump()}] if dice.random() < 0.8 else [],
            "exposure_s": dice.choice([0.01, 2, 60]), "sub_s": dice.choice([0.001, 180, 7200]),
        }  # fmt: skip
        body["saddle_mm"] = dice.choice([None, 0, 5000])
    if body["path"] and dice.random() < 0.2:
        body["measured_focal_length_mm"] = {"value": dice.choice([4, 500, 100_000])}
    if body["framings"] and dice.random() < 0.3:
        for framing in body["framings"]:
            framing["target"] |= {"major_arcmin": None, "minor_arcmin": None, "dec_deg": dice.choice([-90, 0, 90])}
    if dice.random() < 0.6:
        body["shooting"] = {"gain": dice.choice([None, 0, 100, 1e6]), "set_c": dice.choice([None, -60, 30])}
        body["extras"] = [_odd(part, dice).model_dump() for part in dice.sample(_of("accessory"), 3)]
        if body["site"]:
            body["site"] |= {
                "sky_brightness_mag_arcsec2": dice.choice([None, 14, 22.5]), "lamps": dice.choice([None, "led", "sodium"]),
                "wind_m_s": dice.choice([None, 0, 60]), "month_c": dice.choice([(), (-60,) * 12, (45,) * 12]),
            }  # fmt: skip
        for framing in body["framings"]:
            framing["plan"] = [
                {"filter": dice.choice([None, "dual-7", "gone"]), "sub_s": dice.choice([0.001, 60, 7200]),
                 "count": dice.choice([1, 20_000]), "dither_every": dice.choice([0, 1, 1000])}
                for _ in range(dice.randint(0, 3))
            ]  # fmt: skip
            framing["target"] |= {
                "line_rayleighs": dice.choice([None, 0.1, 100_000]), "surface_brightness": dice.choice([None, 5, 35]),
                "core_brightness": dice.choice([None, 0, 30]),
            }  # fmt: skip
    try:
        return Rig.model_validate(body)
    except ValidationError:
        return odd_rig(seed + 1_000_003)


def look_all_over(rig: Rig, *, night: date | None) -> None:
    """Evaluation with fixes, every view, the strip, Board, Compare, Stages, cost, a swap, the sheet and the patch."""
    result = STEPS.evaluate(rig, None, SHELF, tonight=night, sites=(RIDGE, TERRACE))
    answers: list[Any] = [result]
    context = STEPS.context(rig, shelf=SHELF, tonight=night)
    answers += [step.view(context) for step in STEPS if step.view is not None]
    answers += [exposure_view(context, None, [("wren", STEPS.context(WREN, tonight=night))])]
    answers += [lay_out(rig), cost(rig, result, SHELF), compare([("a", rig), ("b", WREN)], Preferences(), TARGETS)]
    answers += grow([("first", WREN), ("then", rig)], Preferences(), TARGETS)
    answers += [board(((("odd", 1, rig),)), TARGETS, Preferences(), RIDGE, night)]
    if rig.path:
        answers.append(swap(rig, len(rig.path) - 1, rig.path[0].part, Preferences(), SHELF))
    draw_patch(context, None, np.zeros((0, 3)), 10.0)
    assert as_svg(spacing_sheet(rig)) and as_pdf(spacing_sheet(rig))
    for answer in answers:
        text = answer.model_dump_json()
        assert "NaN" not in text and "Infinity" not in text
    assert all(isfinite(figure.value) for figure in result.figures)


@pytest.mark.parametrize("block", range(4))
def test_odd_rigs_are_answered(block):
    for seed in range(block * 6, block * 6 + 6):
        look_all_over(odd_rig(seed), night=NIGHT if seed % 3 == 0 else None)


def test_the_command_line_answers_odd_rigs(tmp_path):
    for seed in range(100, 106):
        file = tmp_path / "odd.json"
        file.write_text(rig_file.write(odd_rig(seed)))
        answer = CliRunner().invoke(app, ["check", str(file)])
        assert answer.exit_code in (0, 1, 2), answer.output
        assert "Traceback" not in answer.output
