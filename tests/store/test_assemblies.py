"""Assemblies, preferences and sites in the store: versions, spread, nothing lost."""

import pytest

from dravel.catalogue.starter_shelf import part
from dravel.core.model import Assembly, ConnectorSize, HorizonPoint, PathItem, Preferences
from dravel.store import Store
from dravel.store.rigs import Stale, Unknown


def head(*ids: str, name: str = "Head") -> Assembly:
    return Assembly(name=name, items=tuple(PathItem(part=part(i)) for i in ids))


def test_an_assembly_is_kept_changed_put_away_and_brought_back(store: Store):
    (made,) = store.assemblies.add(head("wheel-7", "mono-17"))
    assert made.id == "head" and made.version == 1
    changed = store.assemblies.replace("head", head("wheel-7", "ring-m42-2", "mono-17"), 1)
    assert changed.version == 2 and len(changed.body.items) == 3
    with pytest.raises(Stale):
        store.assemblies.replace("head", head("mono-17"), 1)
    assert len(store.assemblies.get("head").body.items) == 3
    store.assemblies.archive("head")
    assert store.assemblies.all() == []
    assert store.assemblies.archive("head", archived=False).body.name == "Head"
    with pytest.raises(Unknown):
        store.assemblies.get("tail")


def test_a_change_reaches_only_the_rigs_that_use_it(demo_store: Store):
    (made,) = demo_store.assemblies.add(head("drawer-21", "colour-18"))
    heron = demo_store.rigs.get("heron")
    path = tuple(
        item.model_copy(update={"assembly": made.id}) if i >= 4 else item for i, item in enumerate(heron.rig.path)
    )
    demo_store.rigs.save("heron", heron.rig.model_copy(update={"path": path}), 1)
    demo_store.assemblies.replace(made.id, head("drawer-21", "ring-m42-2", "colour-18"), 1)
    after = demo_store.rigs.get("heron")
    assert after.revision == 3 and [item.part.id for item in after.rig.path[4:]] == [
        "drawer-21",
        "ring-m42-2",
        "colour-18",
    ]
    assert demo_store.rigs.get("bittern").revision == 1
    # Undo takes the change back in this rig, and the assembly stays as it is.
    back = demo_store.rigs.undo("heron", 3)
    assert len(back.rig.path) == len(heron.rig.path)
    assert len(demo_store.assemblies.get(made.id).body.items) == 3


def test_a_part_changed_on_the_shelf_is_changed_in_assemblies(demo_store: Store):
    (made,) = demo_store.assemblies.add(head("drawer-21", "colour-18"))
    heavier = demo_store.parts.get("drawer-21").body.model_copy(update={"mass_g": 222})
    demo_store.parts.replace("drawer-21", heavier, 1)
    kept = demo_store.assemblies.get(made.id)
    assert kept.version == 2 and kept.body.items[0].part.mass_g == 222
    # The same body again changes nothing.
    demo_store.parts.replace("drawer-21", heavier, 2)
    assert demo_store.assemblies.get(made.id).version == 2


def test_the_preferences_keeps_own_sizes_and_refuses_a_stale_write(store: Store):
    own = ConnectorSize(size="M52x0.75", family="thread", nominal_mm=52, clear_mm=48)
    assert store.save_preferences(Preferences(connector_sizes=(own,)), 0) == 1
    with pytest.raises(Stale):
        store.save_preferences(Preferences(), 0)
    kept, version = store.preferences()
    assert version == 1 and kept.connector_sizes == (own,)


def test_a_sites_horizon_reaches_its_rigs_as_a_new_revision(demo_store: Store):
    site = demo_store.sites.get("alto-de-veleda").body
    drawn = site.model_copy(update={"horizon": (HorizonPoint(azimuth_deg=90, altitude_deg=12),)})
    demo_store.sites.replace("alto-de-veleda", drawn, 1)
    heron = demo_store.rigs.get("heron")
    assert heron.revision == 2 and heron.rig.site.horizon == drawn.horizon
    assert demo_store.rigs.get("magpie").revision == 1  # it stands on the terrace
    assert demo_store.rigs.revision("heron", 1).rig.site.horizon == site.horizon != drawn.horizon


def test_what_a_change_touches_is_known_before_it_is_kept(demo_store: Store):
    """Put away rigs too; a change that reaches nobody touches none; and then it is one revision and one undo in each."""
    heron = demo_store.rigs.get("heron")
    (made,) = demo_store.assemblies.add(Assembly(name="Head", items=heron.rig.path[4:]))
    path = tuple(
        item.model_copy(update={"assembly": made.id}) if i >= 4 else item for i, item in enumerate(heron.rig.path)
    )
    first = demo_store.rigs.save("heron", heron.rig.model_copy(update={"path": path}), 1)
    twin = demo_store.rigs.create(first.rig.model_copy(update={"name": "Twin"}))
    demo_store.rigs.archive(twin.id)
    longer = head("drawer-21", "ring-m42-2", "colour-18")
    touched, more = demo_store.assemblies.touches(made.id, longer, 20)
    assert [record.id for record, _ in touched] == ["heron", "twin"] and more == 0
    assert demo_store.assemblies.touches(made.id, longer, 1)[1] == 1
    assert demo_store.assemblies.touches(made.id, made.body, 20) == ([], 0)
    assert demo_store.rigs.get("heron").revision == 2, "nothing is kept by asking"
    demo_store.assemblies.replace(made.id, longer, 1)
    for record, after in touched:
        kept = demo_store.rigs.get(record.id)
        assert kept.rig == after and kept.revision == record.revision + 1
        assert demo_store.rigs.undo(record.id, kept.revision).rig == record.rig
    with pytest.raises(Unknown):
        demo_store.assemblies.touches("tail", longer, 20)
