"""Ticks of builds: from any device, each once, none lost; what cards took in the last builds."""

from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta

import pytest

from dravel.store import Tick, Unknown

START = datetime(2026, 11, 25, 17, 0, tzinfo=UTC)


def tick(name: str, card: str, minute: float = 0, build: int = 1, *, done: bool = True, device: str = "phone") -> Tick:
    return Tick(name, build, card, done, START + timedelta(minutes=minute), device)


def test_a_tick_delivered_twice_counts_once(demo_store):
    builds = demo_store.builds
    builds.add("heron", [tick("aaaaaaaa", "support"), tick("bbbbbbbb", "head", 4)])
    builds.add("heron", [tick("bbbbbbbb", "head", 9)])
    assert [(t.card, t.at.minute) for t in builds.ticks("heron")] == [("support", 0), ("head", 4)]
    assert builds.ticks("wren") == [] and builds.current("heron") == 1
    with pytest.raises(Unknown):
        builds.ticks("no-such")


def test_the_next_build_begins_once_and_the_last_ones_teach_the_minutes(demo_store):
    builds = demo_store.builds
    for number, minutes in enumerate((10, 4, 6, 5), 1):
        if number > 1:
            assert builds.begin("heron", f"begin-000{number}", START) == number
            assert builds.begin("heron", f"begin-000{number}", START) == number
        builds.add(
            "heron", [tick(f"a-{number:08}", "support", 0, number), tick(f"b-{number:08}", "head", minutes, number)]
        )
    # The median of the last three; what took an hour was a pause.
    assert builds.minutes("heron") == {"head": 5.0}
    builds.add("heron", [tick("c-00000004", "polar", 200, 4)])
    assert "polar" not in builds.minutes("heron")


def test_ticks_from_many_threads_are_all_there(demo_store):
    with ThreadPoolExecutor(8) as pool:
        list(pool.map(lambda i: demo_store.builds.add("heron", [tick(f"tick-{i:06}", f"card-{i % 7}", i)]), range(60)))
    assert len(demo_store.builds.ticks("heron")) == 60
