"""What a rig does while a target is shot: whole subs, none over the flip, focus when it is due."""

from itertools import pairwise
from math import inf

from hypothesis import given
from hypothesis import strategies as st

from dravel.core.model import Target
from dravel.core.moves.plans import Flip
from dravel.core.overview.sequence import NightStep, Pace, Subs, shoot, step_key, target_of

M13 = Target(id="ngc-6205", name="M13", ra_deg=250.4, dec_deg=36.5)

SUBS = st.builds(
    lambda name, sub, more, count: Subs(name, name, sub, sub + more, count),
    st.sampled_from(["", "red", "green"]),
    st.floats(1, 900),
    st.floats(0, 40),
    st.one_of(st.none(), st.integers(0, 90)),
)
FLIPS = st.one_of(
    st.none(),
    st.builds(
        lambda at, past, after, takes: Flip(at + past, at + after, takes),
        st.floats(0, 40_000),
        st.floats(-3000, 3000),
        st.floats(0, 3000),
        st.floats(0, 900),
    ),
    st.just(Flip(inf, inf, 300)),
)


@given(
    st.lists(SUBS, min_size=1, max_size=4), st.floats(0, 20_000), st.floats(60, 30_000), FLIPS, st.floats(180, 20_000)
)
def test_steps_never_overlap_nor_leave_the_run_nor_cross_the_flip(wanted, start, long, flip, every):
    steps = shoot(M13, wanted, start, start + long, flip, Pace(every, 180))
    assert all(item.end_s <= other.start_s + 0.01 for item, other in pairwise(steps))
    if steps:
        assert steps[0].start_s >= start - 0.01 and steps[-1].end_s <= start + long + 0.01
    for step in steps:
        if step.kind == "subs":
            assert step.count >= 1 and abs(step.end_s - step.start_s - step.count * step.each_s) < 0.01
            if flip is not None and flip.stops_s < flip.turns_s:
                for k in range(step.count):  # no sub is open while the mount stands at the meridian
                    open_s = step.start_s + k * step.each_s
                    assert (
                        open_s + step.sub_s <= flip.stops_s + 0.02
                        or open_s >= flip.turns_s - 0.02
                        or start >= flip.turns_s
                    )
    for sub in {(w.filter_key, w.sub_s, w.each_s): w for w in wanted}.values():
        if all(w.count is not None for w in wanted):
            shot = sum(
                s.count for s in steps if (s.filter_key, s.sub_s, s.each_s) == (sub.filter_key, sub.sub_s, sub.each_s)
            )
            asked = sum(
                w.count for w in wanted if (w.filter_key, w.sub_s, w.each_s) == (sub.filter_key, sub.sub_s, sub.each_s)
            )
            assert shot <= asked


def test_by_hand():
    """Ten subs of 300 s with 15 s between, a flip at 1500 s that takes 300 s, focus every 45 min, 3 min each."""
    steps = shoot(M13, [Subs("", "", 300, 315, 10)], 0, 9000, Flip(1500, 1500, 300), Pace(2700, 180))
    lines = [(step.kind, step.count, round(step.start_s), round(step.end_s)) for step in steps]
    assert lines == [
        ("subs", 4, 0, 1260),
        ("wait", 0, 1260, 1500),
        ("flip", 0, 1500, 1800),
        ("subs", 3, 1800, 2745),
        ("refocus", 0, 2745, 2925),
        ("subs", 3, 2925, 3870),
    ]


def test_a_mount_that_tracks_past_the_meridian_flips_between_two_subs_without_waiting():
    steps = shoot(M13, [Subs("", "", 300, 315, 20)], 0, 9000, Flip(1500 + 1200, 1500, 300), Pace(9e9, 180))
    assert [step.kind for step in steps] == ["subs", "flip", "subs"]
    assert steps[0].count == 5 and round(steps[1].start_s) == 1575


def test_a_filter_that_has_no_room_to_be_focused_is_not_begun():
    steps = shoot(M13, [Subs("red", "red", 60, 60, 3), Subs("green", "green", 60, 60, 3)], 0, 300, None, Pace(9e9, 180))
    assert [(step.kind, step.count) for step in steps] == [("subs", 3)]


def test_a_sub_longer_than_the_run_is_not_begun():
    assert shoot(M13, [Subs("", "", 900, 915, 3)], 0, 600, None, Pace(9e9, 180)) == ()


@given(st.text(min_size=1, max_size=40), st.integers(0, 500))
def test_a_step_leads_back_to_its_target_whatever_that_is_called(key, place):
    assert target_of(step_key(key, place)) == key


def test_steps_say_the_targets_key_and_its_name():
    for step in shoot(M13, [Subs("", "", 60, 60, 3)], 0, 3000, None, Pace(9e9, 180)):
        assert (step.target, step.name, target_of(step.key)) == ("ngc-6205", "M13", "ngc-6205")


def test_steps_of_nights_that_were_begun_before_steps_had_names_are_read():
    kept = {"key": "M81 / M82/3", "kind": "subs", "start_s": 0, "end_s": 60, "what": "1 × 60 s", "target": "M81 / M82"}
    named = {**kept, "key": "ngc-281/4", "target": "NGC 281"}
    assert NightStep.model_validate(kept).target == "M81 / M82"
    step = NightStep.model_validate(named)
    assert (step.target, step.name) == ("ngc-281", "NGC 281")
    assert NightStep.model_validate_json(step.model_dump_json()) == step
