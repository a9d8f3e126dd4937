"""The spacing sheet: the train as it goes together, in words and numbers to take to the bench."""

from itertools import pairwise

from dravel.core.model import Preferences, Rig
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, Words, joined, text
from dravel.core.train.facts import Spacing
from dravel.core.train.joints import GENDER_WORDS, Joint
from dravel.core.train.light_path import LightPath

MOST_CHECKS = 3


class SheetLine(Model):
    """One part: its length, the running sum from the shoulder, and how it meets the part ahead."""

    number: int
    name: str
    length_mm: float | None
    running_mm: float
    joint: Text
    note: Text
    start_mm: float
    end_mm: float


class CheckPoint(Model):
    """A distance a calliper can take, by name of both faces."""

    words: Text
    length_mm: float
    worst_case_mm: float


class Sheet(Model):
    """All that is printed."""

    rig: str
    shoulder: str
    lines: tuple[SheetLine, ...]
    required_mm: float | None
    actual_mm: float | None
    tolerance_mm: float | None
    glass_mm: float
    checks: tuple[CheckPoint, ...]
    settings: tuple[Text, ...]
    advice: tuple[Text, ...]


def spacing_sheet(rig: Rig, preferences: Preferences | None = None) -> Sheet:
    """The sheet of a rig."""
    preferences = rig.preferences.over(preferences or Preferences())
    facts = Spacing(rig, LightPath.of(rig), preferences)
    train = facts.train
    zero = train.shoulder
    result = {joint.index: joint for joint in facts.joints}
    lines = tuple(
        SheetLine(
            number=i,
            name=entry.part.name,
            length_mm=entry.length,
            running_mm=entry.end - zero,
            joint=_joint(result.get(entry.index)),
            note=joined(
                "; ", (entry.filter.name if entry.filter else "", entry.reading, _set(entry.item.set_length_mm))
            ),
            start_mm=entry.start - zero,
            end_mm=entry.end - zero,
        )
        for i, entry in enumerate(train.laid, 1)
    )
    asked = facts.asked[0]
    telescope = facts.light.telescope
    shoulder = train.corrector.part.name if train.corrector else telescope.name if telescope else "front of the path"
    return Sheet(
        rig=rig.name,
        shoulder=shoulder,
        lines=lines,
        required_mm=asked + train.glass_shift if asked is not None else None,
        actual_mm=train.actual,
        tolerance_mm=facts.tolerance[0],
        glass_mm=train.glass_shift,
        checks=_checks(facts, shoulder),
        settings=_settings(facts),
        advice=_advice(facts),
    )


def _joint(joint: Joint | None) -> Words:
    if joint is None or joint.rear is None or joint.front is None:
        return "not specified"
    rear, front = joint.rear, joint.front
    if not joint.mated:
        return text(
            "MISMATCH: {size} {GENDER_WORDS} on {size_2} {GENDER_WORDS_2}",
            size=rear.size,
            GENDER_WORDS=GENDER_WORDS[rear.gender],
            size_2=front.size,
            GENDER_WORDS_2=GENDER_WORDS[front.gender],
        )
    return text(
        "{size}: {GENDER_WORDS} faces the sensor, {GENDER_WORDS_2} faces the sky",
        size=rear.size,
        GENDER_WORDS=GENDER_WORDS[rear.gender],
        GENDER_WORDS_2=GENDER_WORDS[front.gender],
    )


def _set(length: float | None) -> Words:
    return text("set to {length}", length=Value(length, "mm", 2)) if length is not None else ""


def _checks(facts: Spacing, shoulder: str) -> tuple[CheckPoint, ...]:
    """Shoulder to camera face first; then shoulder to a face on the way, then the longest part alone."""
    behind = [entry for entry in facts.train.behind if entry.length]
    camera = facts.train.camera
    if camera is None or len(behind) < 2 or facts.train.unknown:
        return ()
    zero = facts.train.shoulder
    ahead = [entry for entry in behind if entry is not camera]
    points = [
        CheckPoint(
            words=text(
                "shoulder of the {shoulder} to the front face of the {part}", shoulder=shoulder, part=camera.part.name
            ),
            length_mm=camera.start - zero,
            worst_case_mm=sum(entry.tolerance for entry in ahead),
        )
    ]
    if len(ahead) > 1:
        middle = ahead[len(ahead) // 2 - 1]
        points.append(
            CheckPoint(
                words=text(
                    "shoulder of the {shoulder} to the rear face of the {part}",
                    shoulder=shoulder,
                    part=middle.part.name,
                ),
                length_mm=middle.end - zero,
                worst_case_mm=sum(entry.tolerance for entry in ahead if entry.end <= middle.end),
            )
        )
    longest = max(ahead, key=lambda entry: entry.length or 0.0)
    points.append(
        CheckPoint(
            words=text("{part} alone, face to face", part=longest.part.name),
            length_mm=longest.length or 0.0,
            worst_case_mm=longest.tolerance,
        )
    )
    return tuple(points[:MOST_CHECKS])


def _settings(facts: Spacing) -> tuple[Words, ...]:
    phrases: list[Words] = []
    focuser = facts.train.focuser
    if facts.mirror_moves:
        phrases.append("Focus by the mirror: no drawtube to mark. Note the knob's turns from a known star instead.")
    if facts.position is not None and focuser is not None:
        phrases.append(
            text(
                "Drawtube {position} out of {travel_mm}: mark it.",
                position=Value(facts.position, "mm", 1),
                travel_mm=Value(focuser.travel_mm),
            )
        )
    branch, guider = facts.branch[0], facts.train.guider
    if branch is not None and facts.rig.guide.method == "off_axis":
        phrases.append(
            text(
                "Guide camera: helical {helical} out, nosepiece {drawn_out} out: mark it.",
                helical=Value(branch.helical, "mm", 1),
                drawn_out=Value(branch.drawn_out, "mm", 1),
            )
        )
    if guider is not None and facts.shade is not None:
        phrases.append(
            text(
                "Prism: inner edge {edge} off-axis; clear at {clear_edge}.",
                edge=Value(facts.shade.edge, "mm", 1),
                clear_edge=Value(facts.shade.clear_edge, "mm", 1),
            )
        )
    phrases += [
        text(
            "{part}: faces {faces_deg}, seen from behind, clockwise from up.",
            part=entry.part.name,
            faces_deg=Value(entry.item.faces_deg, "°", 0),
        )
        for entry in facts.train.laid
        if entry.item.faces_deg is not None
    ]
    return tuple(phrases)


def _advice(facts: Spacing) -> tuple[Words, ...]:
    laid = facts.train.laid
    phrases: list[Words] = [
        "Use a thin plastic washer at each threaded connection so it can be unscrewed; count its thickness.",
        "Turn rings by spanner slots or two strap wrenches, never by the camera body.",
    ]
    stays = [
        (item.part.name, other.part.name)
        for item, other in pairwise(laid)
        if item.item.assembly is not None and item.item.assembly == other.item.assembly
    ]
    if stays:
        names = list(dict.fromkeys(name for pair in stays for name in pair))
        phrases.append(text("Stays assembled between nights: {names}.", names=", ".join(names)))
    elif facts.train.camera is not None and len(facts.train.behind) > 1:
        phrases.append(
            "Stays assembled between nights: everything from the shoulder to the camera, capped at the front."
        )
    return tuple(phrases)
