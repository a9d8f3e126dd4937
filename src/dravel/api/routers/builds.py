"""Building a rig: its cards, ticked from any device, and the sheet for paper."""

from datetime import UTC, datetime
from typing import Annotated

from fastapi import APIRouter, Response
from pydantic import AwareDatetime, Field

from dravel.api.deps import PreferencesDep, ShelfDep, StoreDep
from dravel.api.files import a_file
from dravel.api.tonight import ClockDep
from dravel.core.model import Rig
from dravel.core.model.base import Identifier, Model, Quantity, YesNo
from dravel.core.steps import STEPS
from dravel.core.steps.assembly.view import AssemblyView, assembly_view
from dravel.formats import build_sheet
from dravel.store import Store, Tick, Unknown

TickId = Annotated[str, Field(title="Tick", min_length=8, max_length=64, pattern=r"^[A-Za-z0-9-]+$")]


class RigToBuild(Model):
    """An unsaved rig; with the id of the kept one its builds are counted in."""

    rig: Rig
    rig_id: Identifier | None = None


class BuildTick(Model):
    """A card done, or not after all. `id` is made by the device, so that a tick delivered twice counts once."""

    id: TickId
    build: Annotated[int, Quantity("Build", "", 1, 1_000_000)]
    card: Annotated[str, Field(title="Card", min_length=1, max_length=120)]
    done: YesNo = True
    at: AwareDatetime
    device: Annotated[str, Field(title="Device", max_length=80)] = ""


class TicksGiven(Model):
    """Ticks that a device delivers, old ones too."""

    ticks: Annotated[tuple[BuildTick, ...], Field(max_length=500)]


class BuildBegun(Model):
    """A request to begin the next build, under an id of the device's own."""

    id: TickId


class BuildState(Model):
    """How far a build is: cards done, who ticked the same card on two devices, and all its ticks, oldest first."""

    build: int
    done: tuple[str, ...]
    conflicts: tuple[str, ...]
    ticks: tuple[BuildTick, ...]


def router() -> APIRouter:
    """The routes of builds."""
    made = APIRouter(tags=["builds"])
    made.add_api_route("/assembly", build, methods=["POST"])
    made.add_api_route("/rigs/{rig_id}/assembly", state, methods=["GET"])
    made.add_api_route("/rigs/{rig_id}/assembly/ticks", tick, methods=["POST"])
    made.add_api_route("/rigs/{rig_id}/assembly/again", again, methods=["POST"])
    made.add_api_route(
        "/rigs/{rig_id}/assembly.pdf",
        build_pdf,
        methods=["GET"],
        response_class=Response,
        responses={200: {"content": {"application/pdf": {}}, "description": "The cards on paper"}},
    )
    return made


def build(
    given: RigToBuild, preferences: PreferencesDep, shelf: ShelfDep, store: StoreDep, clock: ClockDep
) -> AssemblyView:
    """The cards of an unsaved rig in their order, with the minutes the last builds of the kept one took."""
    context = STEPS.context(given.rig, preferences, shelf, tonight=clock(given.rig.site))
    return assembly_view(context, *_before(store, given.rig_id))


def _before(store: Store, rig_id: str | None) -> tuple[dict[str, float], set[str]]:
    """Minutes that cards took in the builds before, and which were done in any."""
    try:
        return (store.builds.minutes(rig_id), store.builds.done_before(rig_id)) if rig_id else ({}, set())
    except Unknown:
        return {}, set()


def state(rig_id: Identifier, store: StoreDep) -> BuildState:
    """How far the build under way is."""
    return _state(store, rig_id)


def tick(rig_id: Identifier, given: TicksGiven, store: StoreDep) -> BuildState:
    """Keep ticks. A tick that is there already is left as it is; of two for one card the later counts."""
    store.builds.add(rig_id, [Tick(t.id, t.build, t.card, t.done, t.at.astimezone(UTC), t.device) for t in given.ticks])
    return _state(store, rig_id)


def again(rig_id: Identifier, given: BuildBegun, store: StoreDep) -> BuildState:
    """Begin the next build; the ticks of the last one stay and teach the minutes."""
    store.builds.begin(rig_id, given.id, datetime.now(UTC))
    return _state(store, rig_id)


def build_pdf(
    rig_id: Identifier, preferences: PreferencesDep, shelf: ShelfDep, store: StoreDep, clock: ClockDep
) -> Response:
    """The cards of a kept rig on paper, up and down, with what to bring."""
    rig = store.rigs.get(rig_id).rig
    context = STEPS.context(rig, preferences, shelf, tonight=clock(rig.site))
    made = build_sheet.as_pdf(rig.name, assembly_view(context, *_before(store, rig_id)))
    return a_file(made, "application/pdf", f"{rig_id}-build.pdf", shown="inline")


def _state(store: Store, rig_id: str) -> BuildState:
    ticks = store.builds.ticks(rig_id)
    last = {entry.card: entry for entry in ticks}
    conflicts = []
    for card, item in last.items():
        others = {(t.device, t.done) for t in ticks if t.card == card and t.device != item.device}
        if any(done != item.done for _, done in others):
            word = "done" if item.done else "not done"
            conflicts.append(f"{card}: ticked differently on two devices; the later counts, {word}")
    return BuildState(
        build=store.builds.current(rig_id),
        done=tuple(card for card, entry in last.items() if entry.done),
        conflicts=tuple(conflicts),
        ticks=tuple(
            BuildTick(id=t.id, build=t.build, card=t.card, done=t.done, at=t.at, device=t.device) for t in ticks
        ),
    )
