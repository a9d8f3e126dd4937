"""The run file: a planned night as self-contained JSON that a controller or a script can follow; its schema is published."""

import json
from collections.abc import Mapping
from datetime import date, datetime, timedelta
from typing import Annotated, Any, Literal

from pydantic import AwareDatetime, Field

from dravel.core.model import Framing, Rig
from dravel.core.model.base import Model
from dravel.core.overview.sequence import NightStep, StepKind
from dravel.core.overview.tonight import TonightPlan

FORMAT, VERSION = "dravel-run", 1


class RunTarget(Model):
    """Where to point: J2000 in degrees, the camera's angle east of north."""

    name: str
    ra_deg: float
    dec_deg: float
    position_angle_deg: float
    columns: int
    rows: int


class RunStep(Model):
    """One step, UTC. Of subs: how many and how long each is open; `target` names one of the rig's targets."""

    kind: StepKind
    start: AwareDatetime
    end: AwareDatetime
    what: str
    target: str = ""
    filter: str = ""
    sub_s: float = 0.0
    count: int = 0


class RunRig(Model):
    """One rig's night, in time order. `set_c` is the camera's set point, empty where it does not cool."""

    id: str
    name: str
    set_c: float | None
    targets: tuple[RunTarget, ...]
    steps: tuple[RunStep, ...]


class RunFile(Model):
    """The document in the file."""

    format: Literal["dravel-run"] = Field(description="Names the format")
    version: Literal[1] = Field(description="Layout of the document; readers refuse newer ones")
    night: Annotated[date, Field(description="The evening's date")]
    site: str
    rigs: tuple[RunRig, ...]


def write(plan: TonightPlan, rigs: Mapping[str, Rig], set_points: Mapping[str, float | None]) -> str:
    """The night as file text. `rigs` and `set_points` by the ids of the plan."""
    made = RunFile(
        format=FORMAT, version=VERSION, night=plan.day, site=plan.site,
        rigs=tuple(
            RunRig(
                id=rig.rig_id, name=rig.name, set_c=set_points.get(rig.rig_id),
                targets=_targets(rigs[rig.rig_id], rig.steps),
                steps=tuple(_step(plan.noon, step) for step in rig.steps),
            )
            for rig in plan.rigs
        ),
    )  # fmt: skip
    return json.dumps(made.model_dump(mode="json"), ensure_ascii=False, indent=2) + "\n"


def _targets(rig: Rig, steps: tuple[NightStep, ...]) -> tuple[RunTarget, ...]:
    shot = {step.target for step in steps}
    return tuple(_target(framing) for framing in rig.framings if framing.target.key in shot)


def _target(framing: Framing) -> RunTarget:
    return RunTarget(
        name=framing.target.name, ra_deg=round(framing.centre_ra_deg, 5), dec_deg=round(framing.centre_dec_deg, 5),
        position_angle_deg=framing.position_angle_deg, columns=framing.columns, rows=framing.rows,
    )  # fmt: skip


def _step(noon: datetime, step: NightStep) -> RunStep:
    start, end = (noon + timedelta(seconds=round(at)) for at in (step.start_s, step.end_s))
    return RunStep(
        kind=step.kind, start=start, end=end, what=str(step.what), target=step.name, filter=step.filter, sub_s=step.sub_s,
        count=step.count,
    )  # fmt: skip


def schema() -> dict[str, Any]:
    """JSON Schema of the file."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **RunFile.model_json_schema()}
