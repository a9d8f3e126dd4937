"""Which rig for which target on a night, and the sizes that no rig frames well."""

from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, Words, text
from dravel.core.overview.board import Board, BoardRow


class TargetSuits(Model):
    """A target on a night: its usable hours, the rig that does best on it, and how well the next would do."""

    target_id: str
    name: str
    hours: float
    rig_id: str
    rig: str
    score: float
    words: Text


class FieldGap(Model):
    """Sizes between what two rigs frame well that none does, ′, and which targets have them."""

    low_arcmin: float
    high_arcmin: float
    words: Text


class RigsForTargets(Model):
    """Targets that some rig suits, the best pairs first; targets that none does; gaps between the rigs' fields."""

    suits: tuple[TargetSuits, ...]
    none: tuple[str, ...]
    gaps: tuple[FieldGap, ...]


def rigs_for_targets(board: Board) -> RigsForTargets:
    """The Board read by targets. A rig that breaks for every target does not count."""
    rows = [row for row in board.rows if not row.dead]
    result, none = [], []
    for k, target in enumerate(board.targets):
        # Of scores that read the same, the rig in whose field the target is larger: it shows more of it.
        scored = sorted(
            ((row.cells[k].score or 0.0, row) for row in rows), key=lambda item: (-round(item[0]), -_share(item[1], k))
        )
        if not scored or scored[0][0] <= 0:
            none.append(target.name)
            continue
        (best, row), others = scored[0], [item for item in scored[1:] if item[0] > 0]
        cell = row.cells[k]
        beside = (
            text("; {others} {others_2}", others=others[0][1].name, others_2=Value(others[0][0], digits=0))
            if others
            else ""
        )
        hours = board.hours[k] if k < len(board.hours) else 0.0
        result.append(
            TargetSuits(
                target_id=cell.target_id, name=target.name, hours=hours, rig_id=row.rig_id, rig=row.name, score=best,
                words=text('{cell}, {best} of 100{beside}', cell=cell.words or 'size unknown', best=Value(best, digits=0), beside=beside),
            )
        )  # fmt: skip
    return RigsForTargets(
        suits=tuple(sorted(result, key=lambda item: -item.score)), none=tuple(none), gaps=tuple(_gaps(rows, board))
    )


def _share(row: BoardRow, k: int) -> float:
    span = row.cells[k].span or 0.0
    return span if span <= 1 else 0.0


def _gaps(rows: list[BoardRow], board: Board) -> list[FieldGap]:
    """What lies between the fields that rigs frame well."""
    spans = sorted((row.frames_well_arcmin, row.name) for row in rows if row.frames_well_arcmin)
    field_gaps: list[FieldGap] = []
    if not spans:
        return field_gaps
    reach, below = spans[0][0][1], spans[0][1]
    for (low, high), name in spans[1:]:
        if low > reach * 1.001:
            inside = [
                target.name for target in board.targets if target.major_arcmin and reach < target.major_arcmin < low
            ]
            among = f": {', '.join(inside)}" if inside else ""
            field_gaps.append(
                FieldGap(
                    low_arcmin=reach, high_arcmin=low,
                    words=text('from {reach} ({below}) to {low} ({name}) no rig frames well{among}', reach=_size(reach), below=below, low=_size(low), name=name, among=among),
                )
            )  # fmt: skip
        if high > reach:
            reach, below = high, name
    return field_gaps


def _size(arcmin: float) -> Words:
    return Value(arcmin / 60, "°", 1) if arcmin >= 60 else Value(arcmin, "′", 0)
