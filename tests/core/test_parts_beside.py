"""Parts of rigs side by side: laid, taken out, set and moved between two revisions of one rig."""

from dravel.catalogue.demo import scenario
from dravel.core.overview.parts_beside import parts_beside

HERON = dict(scenario().rigs)["heron"]


def rows(*rigs):
    return {row.name: row for row in parts_beside(rigs)}


def test_the_same_rig_twice_differs_in_nothing():
    answer = parts_beside([HERON, HERON])
    assert answer and not any(row.differs for row in answer)
    assert all(item == other != "" for item, other in (row.words for row in answer))


def test_what_was_taken_out_moved_and_hung_lower_is_told_and_stands_first():
    weight = HERON.counterweights[0]
    later = HERON.model_copy(
        update={
            "path": tuple(item for item in HERON.path if item.part.id != "ring-m48-0-7"),
            "counterweights": (weight.model_copy(update={"position_mm": weight.position_mm + 20}),),
            "riders": (HERON.riders[0].model_copy(update={"off_at_night": True}), *HERON.riders[1:]),
        }
    )
    answer = rows(HERON, later)
    assert answer["0.7 mm M48 ring"].words == ("has it", "")
    assert answer[weight.part.name].words == (f"at {weight.position_mm:g} mm", f"at {weight.position_mm + 20:g} mm")
    assert str(answer[HERON.riders[0].part.name].words[1]).endswith("removed before imaging")
    assert [row.differs for row in parts_beside([HERON, later])] == sorted(
        (row.differs for row in answer.values()), reverse=True
    )


def test_two_of_one_part_are_counted_and_an_empty_rig_has_nothing():
    twice = HERON.model_copy(update={"path": (*HERON.path[:3], HERON.path[2], *HERON.path[3:])})
    ring = HERON.path[2].part.name
    assert rows(HERON, twice)[ring].words == ("has it", "2 of it")
    empty = HERON.model_copy(
        update={"path": (), "riders": (), "counterweights": (), "mount": None, "support": None, "extras": ()}
    )
    assert rows(HERON, empty)[ring].words == ("has it", "")
