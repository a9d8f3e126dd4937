"""The Build step: cards in their order, the way back, what to bring and carry."""

from collections.abc import Collection, Iterator, Mapping

from dravel.core.engine.context import Context
from dravel.core.model import Camera, Part, Telescope
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, text
from dravel.core.steps.assembly.facts import Build
from dravel.core.steps.assembly.first import first_cards
from dravel.core.steps.assembly.order import Card
from dravel.core.steps.assembly.starting import SHORT_METHODS, polar_method
from dravel.core.train.layout import part_key


class BuildCard(Model):
    """One card. `after` are the cards it waits for; `taken_min` is what it took the last times, where that is known."""

    key: str
    title: Text
    does: Text
    place: Text
    tool: Text
    mark: Text
    check: Text
    caution: Text
    minutes: float
    taken_min: float | None
    after: tuple[str, ...]
    parts: tuple[str, ...]
    first: bool
    after_sunset: bool = False


class BuildPiece(Model):
    """A piece of the exploded rig, to scale: its length along the light and its height, mm; in a row of its own kind."""

    key: str
    name: str
    kind: str
    row: int
    length_mm: float
    height_mm: float


class AssemblyView(Model):
    """The build of a rig: up, down, left out; minutes as they were taken where they are known."""

    cards: tuple[BuildCard, ...]
    down: tuple[BuildCard, ...]
    left_out: tuple[BuildCard, ...]
    minutes: float
    minutes_words: Text
    kept: Text
    polar: Text
    tools: tuple[Text, ...]
    bring: tuple[Text, ...]
    loads: tuple[Text, ...]
    notes: tuple[Text, ...]
    pieces: tuple[BuildPiece, ...]


def assembly_view(
    context: Context, taken: Mapping[str, float] | None = None, done: Collection[str] = ()
) -> AssemblyView:  # fmt: skip
    """The cards of a rig; `taken` are minutes that cards took before, by key, `done` those that an earlier build has ticked:
    what is done once is not asked for again.
    """
    build, taken = context.of(Build), taken or {}
    cards = build.with_first(done)
    once = {card.key for card in build.first}
    known = {card.key for card in cards}
    minutes = sum(taken.get(card.key, card.minutes) for card in build.cards)
    counted = sum(card.key in taken for card in build.cards)
    words = text("estimate (order of magnitude)")
    if counted:
        words = text("average of recent setups, {counted} of {cards} cards", counted=counted, cards=len(build.cards))
    if len(cards) > len(build.cards):
        more = sum(card.minutes for card in cards if card.key in once)
        words += text(", plus {more} the first time", more=Value(more * 60, form="time"))
    return AssemblyView(
        cards=tuple(_card(card, taken, known, once) for card in cards),
        down=tuple(_card(card, taken, known, once) for card in build.down),
        left_out=tuple(
            _card(card, taken, known, once)
            for card in (*build.all, *first_cards(context))
            if card.key in context.rig.build.left_out
        ),
        minutes=minutes,
        minutes_words=words,
        kept=context.rig.build.kept,
        polar=SHORT_METHODS[polar_method(context)],
        tools=build.tools,
        bring=_bring(context),
        loads=_loads(context),
        notes=() if build.cards else ("No parts yet: build the light path first.",),
        pieces=tuple(_pieces(context)),
    )


PLAIN_MM = 60.0  # of what gives no size: drawn, but not to scale


def _pieces(context: Context) -> Iterator[BuildPiece]:
    """The light path in a row, then what carries it, then what rides along."""
    rig = context.rig

    def piece(part: Part, row: int, length: float | None, height: float | None) -> BuildPiece:
        kind = getattr(part, "kind", "part")
        return BuildPiece(
            key=part_key(part), name=part.name, kind=kind, row=row, length_mm=max(length or PLAIN_MM, 4.0),
            height_mm=max(height or PLAIN_MM, 10.0),
        )  # fmt: skip

    for item in rig.path:
        part = item.part
        if isinstance(part, Telescope):
            yield piece(part, 0, part.tube_length_mm, part.tube_diameter_mm or part.used("aperture_mm"))
        elif isinstance(part, Camera):
            yield piece(part, 0, part.body_length_mm, part.outer_diameter_mm)
        else:
            yield piece(part, 0, item.set_length_mm or part.used("optical_length_mm"), part.outer_diameter_mm)
    if rig.support is not None:
        yield piece(rig.support, 1, rig.support.height_mm, 2 * rig.support.foot_radius_mm * 0.5)
    if rig.mount is not None:
        yield piece(rig.mount, 1, 2 * (rig.mount.axis_height_mm or 90.0), 2 * (rig.mount.saddle_height_mm or 90.0))
    for hung in rig.counterweights:
        yield piece(hung.part, 1, hung.part.thickness_mm, 120.0)
    for placed in rig.riders:
        rider = placed.part
        length = getattr(rider, "length_mm", None) or getattr(rider, "aperture_mm", None)
        yield piece(rider, 2, length, getattr(rider, "height_mm", None) or getattr(rider, "diameter_mm", None))
    if rig.guide.method != "none":
        for item in rig.guide.branch:
            if isinstance(item.part, Camera):
                yield piece(item.part, 2, item.part.body_length_mm, item.part.outer_diameter_mm)
    if rig.supply.source is not None:
        yield piece(rig.supply.source, 2, 180.0, 130.0)


def _card(card: Card, taken: Mapping[str, float], known: set[str], once: set[str]) -> BuildCard:
    return BuildCard(
        key=card.key, title=card.title, does=card.does, place=card.place, tool=card.tool, mark=card.mark,
        check=card.check, caution=card.caution, minutes=card.minutes, taken_min=taken.get(card.key),
        after=tuple(key for key in card.after if key in known), parts=card.parts, first=card.key in once,
        after_sunset=card.after_sunset,
    )  # fmt: skip


def _loads(context: Context) -> tuple[Text, ...]:
    """What is carried in one piece each, the heaviest first, with its mass; what two must lift says so."""
    if "pieces" not in context.known:
        return ()
    pieces = sorted(context.known.inputs("pieces"), key=lambda item: -(item.value or 0.0))
    limit = context.preferences.lift_kg
    return tuple(
        text(
            "{one} {origin}{which}",
            one=Value(piece.value, "kg", 1),
            origin=str(piece.origin),
            which=" (two people)" if piece.value > limit else "",
        )
        for piece in pieces
        if piece.value
    )


def _bring(context: Context) -> tuple[str, ...]:
    """Everything that must be in the car, by name, several of a kind counted."""
    rig = context.rig
    names = [item.part.name for item in rig.path]
    names += [entry.name for item in rig.path for entry in item.filters]
    names += [placed.part.name for placed in rig.riders]
    if rig.guide.method != "none":
        names += [item.part.name for item in rig.guide.branch]
    names += [part.name for part in (rig.mount, rig.support, rig.supply.source) if part is not None]
    names += [hung.part.name for hung in rig.counterweights]
    names += [part.name for part in (*rig.supply.cables, *rig.extras)]
    counts: dict[str, int] = {}
    for name in names:
        counts[name] = counts.get(name, 0) + 1
    return tuple(name if many == 1 else f"{many} × {name}" for name, many in counts.items())
