"""The demo's log: invented nights of the demo rigs before an evening, with their marks. Nobody shot them."""

from collections.abc import Iterator
from datetime import UTC, date, datetime, time, timedelta

from dravel.core.model.session import (
    SessionConditions,
    SessionEvent,
    SessionLoss,
    SessionRecord,
    SessionSubs,
    WorkedMark,
)

DUAL, CUT, LUM = "dual-narrowband filter, 7 nm", "UV/IR-cut filter", "luminance filter, 1.25-inch"
RED, GREEN, BLUE = ("red filter, 1.25-inch", "green filter, 1.25-inch", "blue filter, 1.25-inch")
Night = tuple[int, str, list[tuple[str, str, str, float, int, int]], str, float, str]
# Days before, rig, subs (target, name, filter, seconds, taken, kept), why lost, temperature, words.
NIGHTS: tuple[Night, ...] = (
    (3, "heron", [("ic-1805", "IC 1805", DUAL, 180, 22, 20)], "wind", 1.5, "gusts until eleven, then calm"),
    (4, "heron", [("ic-1805", "IC 1805", DUAL, 180, 18, 18)], "", 3.0, "steady, dry"),
    (4, "bittern", [("ngc-891", "NGC 891", LUM, 120, 40, 36), ("ngc-891", "NGC 891", RED, 120, 12, 12)], "cloud", 3.0,
     "thin cloud after midnight"),
    (6, "wren", [("veil-complex", "Veil complex", "", 25, 240, 221)], "trailed", 6.5, "from the car park, on foot"),
    (17, "heron", [("veil-complex", "Veil complex", DUAL, 180, 30, 27)], "dew", 8.0, "dew from two on"),
    (18, "bittern", [("ngc-891", "NGC 891", LUM, 120, 25, 25), ("ngc-891", "NGC 891", GREEN, 120, 14, 13)], "guiding", 7.0,
     "new moon; the guide star was faint"),
    (19, "heron", [("veil-complex", "Veil complex", DUAL, 180, 12, 12), ("ngc-281", "NGC 281", CUT, 60, 20, 20)], "", 10.0,
     "short night, packed up early"),
    (46, "heron", [("veil-complex", "Veil complex", DUAL, 180, 6, 5)], "cables", 14.0, "a cable snagged at the flip"),
)  # fmt: skip
NAMES = {"heron": "Heron", "bittern": "Bittern", "wren": "Wren"}


def demo_sessions(today: date) -> Iterator[SessionRecord]:
    """The demo's sessions, as if `today` were the evening that is looked at."""
    for back, rig_id, subs, why, warm, words in sorted(NIGHTS, key=lambda item: -item[0]):
        day = today - timedelta(days=back)
        began = datetime.combine(day, time(18, 50), UTC)
        taken = sum(sub[4] * sub[3] for sub in subs)
        lost = sum(sub[4] - sub[5] for sub in subs)
        yield SessionRecord(
            night=day, site="Alto de Veleda", rig_id=rig_id, rig=NAMES[rig_id], rig_revision=1, origin="typed",
            began=began, ended=began + timedelta(seconds=taken * 1.12),
            subs=tuple(
                SessionSubs(target=target, name=name, filter=behind, sub_s=sub_s, planned=count, taken=count, kept=kept)
                for target, name, behind, sub_s, count, kept in subs
            ),
            losses=(SessionLoss(why=why, count=lost),) if lost else (),
            events=(SessionEvent(at=began + timedelta(hours=1), what=words),),
            conditions=SessionConditions(temperature_c=warm, words=words), marks=tuple(_marks(rig_id, warm, back)),
        )  # fmt: skip


def _marks(rig_id: str, warm: float, back: int) -> Iterator[WorkedMark]:
    jitter = ((back * 7) % 5 - 2) * 0.012
    if rig_id == "heron":
        yield WorkedMark(
            sort="drawtube", value=round(16.24 - 0.0114 * (warm - 5) + jitter, 2), of=DUAL, temperature_c=warm
        )
        yield WorkedMark(sort="saddle", value=181 if back < 10 else 176)
        yield WorkedMark(sort="guide_rms", value=round(1.05 + 0.04 * (back % 4), 2))
    elif rig_id == "bittern":
        yield WorkedMark(sort="weight", value=39 if back > 10 else 41, of="7 kg counterweight, 20 mm bore")
        yield WorkedMark(sort="focuser", value=round(21_400 - 38 * warm + (back % 3) * 6), of=LUM, temperature_c=warm)
        yield WorkedMark(sort="guide_rms", value=0.62)
        yield WorkedMark(sort="polar_error", value=1.8)
