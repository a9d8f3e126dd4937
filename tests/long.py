"""Long proofs: cases that `make test` leaves to `make soak`, each one more of a kind of which others always run."""

import re

LONG = tuple(re.compile(pattern) for pattern in (
    r"test_what_people_take.*-(feb|mar|may|jun|aug|sep|nov|dec)\]",
    r"test_numbers_lead_home.*-rigs/(heron|bittern)/",
    r"test_however_it_is_ended_the_one_file_holds_everything\[(1|2)\]",
    r"test_a_first_start_that_is_killed_leaves_nothing_half_done\[0.3\]",
    r"test_the_pointer_and_what_it_drags_go_together\[chromium-(1920|2560)\]",
    r"test_five_frames_through_focus_tell_tilt_.*\[(15-200|120-300)\]",
    r"test_fifty_backups_while_four_write",
    r"test_a_kill_during_restore",
    r"test_the_wheel_runs_without_node",
    r"test_idle_connections_keep_nobody_out\[256\]",
    r"test_more_money_is_never_worse\[2500-5000\]",
    r"test_stopped_half_way_leaves_nothing_half_made",
    r"test_stars_of_another_place_are_never_taken_for_this_one",
    r"test_copies_of_gear_change_no_answer",
    r"test_five_thousand_parts_make_no_more_than_a_bounded_table",
))  # fmt: skip


def is_long(test: str) -> bool:
    """Whether a test, by its id, is one of them."""
    return any(pattern.search(test) for pattern in LONG)
