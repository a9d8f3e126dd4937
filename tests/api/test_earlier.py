"""What was written for earlier versions: addresses of the API, and names of fields, still find what they mean."""

import pytest

from dravel.api.earlier import now
from dravel.core.model import Preferences, Rig
from dravel.core.overview.night_words import TonightLine

V1 = "/api/v1"


@pytest.mark.parametrize(
    ("before", "today"),
    [
        (f"{V1}/glass", f"{V1}/optics"),
        (f"{V1}/guide/patch", f"{V1}/guiding/patch"),
        (f"{V1}/proof/guide-log", f"{V1}/frames/guide-log"),
        (f"{V1}/rigs/heron/build", f"{V1}/rigs/heron/assembly"),
        (f"{V1}/rigs/heron/build/ticks", f"{V1}/rigs/heron/assembly/ticks"),
        (f"{V1}/rigs/heron/build.pdf", f"{V1}/rigs/heron/assembly.pdf"),
        (f"{V1}/practice", f"{V1}/preferences"),
        (f"{V1}/loads", f"{V1}/loads"),
        (f"{V1}/rigs/build", f"{V1}/rigs/build"),
        ("/guide/optics", "/guide/optics"),
    ],
)
def test_old_addresses_of_the_api(before, today):
    assert now(before) == today == now(today)


def test_they_are_answered(client):
    rig = client.get(f"{V1}/rigs/heron").json()["rig"]
    for step in ("glass", "load", "guide", "build"):
        assert client.post(f"{V1}/{step}", json={"rig": rig}).status_code == 200
    assert client.get(f"{V1}/rigs/heron/build").json() == client.get(f"{V1}/rigs/heron/assembly").json()
    assert client.get(f"{V1}/practice").json() == client.get(f"{V1}/preferences").json()


def test_old_names_of_fields_are_read_and_today_s_win():
    assert (
        Rig.model_validate({"name": "r", "practice": {"sampling": "comfort_band"}}).preferences.sampling
        == "comfort_band"
    )
    assert Preferences.model_validate({"wished_snr": 25}).target_snr == 25
    with pytest.raises(ValueError, match="wished_snr"):
        Preferences.model_validate({"wished_snr": 25, "target_snr": 30})


def test_a_night_that_ran_before_keeps_its_verdicts():
    """The plan of a running night is kept with what was said of it."""
    for before, today in (("holds", "ok"), ("strains", "warning"), ("breaks", "problem"), ("ok", "ok")):
        assert TonightLine.model_validate_json(f'{{"verdict": "{before}", "words": {{"text": "w"}}}}').verdict == today
    with pytest.raises(ValueError, match="verdict"):
        TonightLine.model_validate({"verdict": "fine", "words": "w"})


def test_old_names_in_a_query_are_understood(client):
    rig = client.get(f"{V1}/rigs/magpie").json()["rig"]
    for name in ("mends", "fixes"):
        told = client.post(f"{V1}/evaluate?{name}=true", json={"rig": rig}).json()["evaluation"]["findings"]
        assert any(finding["fixes"] for finding in told)
