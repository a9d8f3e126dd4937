"""What the version before wrote still opens: its rig files, and its demo's database with its history."""

import gzip
from pathlib import Path

import pytest

from dravel.core.steps import STEPS
from dravel.formats import rig_file
from dravel.seed import top_up
from dravel.store import Store

BEFORE = Path(__file__).parents[1] / "data" / "version-1"


@pytest.mark.parametrize("path", sorted(BEFORE.glob("*.json")), ids=lambda path: path.stem)
def test_rig_files_of_version_1_open_and_are_judged(path, rigs):
    rig = rig_file.read(path.read_bytes())
    assert rig.name.lower() == path.stem
    assert STEPS.evaluate(rig).verdict in ("ok", "warning", "problem")
    assert rig_file.read(rig_file.write(rig).encode()) == rig


def test_a_database_of_the_version_before_opens_with_its_history(tmp_path):
    path = tmp_path / "demo.sqlite"
    path.write_bytes(gzip.decompress((BEFORE / "demo.sqlite.gz").read_bytes()))
    store = Store(path)
    top_up(store)
    assert [record.id for record in store.rigs.all()] == ["wren", "heron", "bittern", "magpie"]
    heron = store.rigs.get("heron")
    assert (heron.revision, heron.can_redo, heron.rig.saddle_mm) == (
        3,
        True,
        store.rigs.revision("heron", 1).rig.saddle_mm,
    )
    assert store.rigs.revision("heron", 2).rig.saddle_mm == 150
    assert store.rigs.redo("heron", 3).rig.saddle_mm == 150
    # A save made on an early revision is laid together with what came after it, as for rigs made today.
    late = store.rigs.save("heron", store.rigs.revision("heron", 1).rig.model_copy(update={"name": "Late"}), 1)
    assert (late.rig.name, late.rig.saddle_mm) == ("Late", 150)
    assert len(store.parts.all()) > 100 and len(store.growths.all()) == 1
    store.close()
