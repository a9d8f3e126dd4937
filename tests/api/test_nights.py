"""Nights over the API."""

import csv
import io

import pytest
from astropy.io import fits

V1 = "/api/v1"


def test_night_and_year_of_a_target(client):
    rig = client.get(f"{V1}/rigs/heron").json()["rig"]
    body = {"site": rig["site"], "target": rig["framings"][0]["target"]}
    answer = client.post(f"{V1}/sky/night", json=body).json()
    assert answer["night"]["facts"]["day"] == "2026-11-25"
    assert answer["night"]["usable_h"] == pytest.approx(10.8, abs=0.1)
    assert len(answer["year"]["weeks"]) == 53
    other = client.post(f"{V1}/sky/night", json={**body, "on": "2027-05-25"}).json()
    assert other["night"]["usable_h"] < 2


@pytest.mark.parametrize("on", ["1890-01-01", "2150-01-01", "yesterday"])
def test_dates_beyond_the_theories_are_refused(client, on):
    rig = client.get(f"{V1}/rigs/heron").json()["rig"]
    body = {"site": rig["site"], "target": rig["framings"][0]["target"], "on": on}
    assert client.post(f"{V1}/sky/night", json=body).status_code == 422
    assert client.get(f"{V1}/board?on={on}").status_code == 422


def test_the_night_is_ranked_for_a_rig(client):
    rig = client.get(f"{V1}/rigs/heron").json()["rig"]
    answer = client.post(f"{V1}/sky/tonight", json={"rig": rig}).json()
    assert answer["facts"]["site"] == "Alto de Veleda" and len(answer["best"]) == 60
    listed = client.post(f"{V1}/sky/tonight", json={"rig": rig, "listed": True, "site": "town-terrace"}).json()
    assert listed["best"][0]["target"]["name"] == "IC 1805"
    nowhere = client.post(f"{V1}/sky/tonight", json={"rig": {**rig, "site": None}}).json()
    assert nowhere["because"] == "the rig stands at no site yet"
    bare = client.post(f"{V1}/sky/tonight", json={"rig": {"name": "x", "site": rig["site"]}}).json()
    assert bare["because"] and bare["facts"]
    assert client.post(f"{V1}/sky/tonight", json={"rig": rig, "site": "none"}).status_code == 404


def test_a_horizon_is_read_and_nothing_kept(client):
    answer = client.post(
        f"{V1}/sky/horizon", content="0 10\n90 x\n180 20", headers={"content-type": "text/plain"}
    ).json()
    assert len(answer["points"]) == 2 and answer["faults"][0][0] == 2
    bad = client.post(f"{V1}/sky/horizon", content=b"\xff\xfe", headers={"content-type": "text/plain"}).json()
    assert bad["points"] == [] and "UTF-8" in bad["faults"][0][1]["reason"]


@pytest.mark.parametrize(("place", "zone"), [((40.9, -2.6), "Europe/Madrid"), ((-30.2, -70.8), "America/Santiago")])
def test_the_time_zone_of_a_place_is_found_offline(client, place, zone):
    query = {"latitude_deg": place[0], "longitude_deg": place[1]}
    assert client.get(f"{V1}/sky/timezone", params=query).json()["timezone"] == zone
    assert client.get(f"{V1}/sky/timezone", params={"latitude_deg": 95, "longitude_deg": 0}).status_code == 422


def test_bad_sites_name_their_field(client):
    kept = client.get(f"{V1}/sites/town-terrace").json()
    for change, field in (
        ({"latitude_deg": 95}, "latitude_deg"),
        ({"timezone": "Mars/Olympus"}, "timezone"),
        ({"horizon": [{"azimuth_deg": 400, "altitude_deg": 3}]}, "horizon.0.azimuth_deg"),
    ):
        body = {"base": kept["version"], "body": {**kept["body"], **change}}
        told = client.put(f"{V1}/sites/town-terrace", json=body)
        assert told.status_code == 422 and field in told.json()["errors"][0]["field"]
    assert client.get(f"{V1}/sites/town-terrace").json() == kept


def test_a_drawn_horizon_reaches_the_rigs_at_the_site(client):
    kept = client.get(f"{V1}/sites/alto-de-veleda").json()
    wall = [{"azimuth_deg": 0, "altitude_deg": 60}]
    client.put(f"{V1}/sites/alto-de-veleda", json={"base": 1, "body": {**kept["body"], "horizon": wall}})
    rig = client.get(f"{V1}/rigs/heron").json()["rig"]
    assert rig["site"]["horizon"] == wall
    findings = client.post(f"{V1}/evaluate", json={"rig": rig}).json()["evaluation"]["findings"]
    assert any(f["code"] == "A2" for f in findings)


def test_exports_of_a_framing(client):
    rows = list(csv.DictReader(io.StringIO(client.get(f"{V1}/rigs/heron/framings/1/tiles.csv").text)))
    assert rows[0]["target"] == "Veil complex"
    header = fits.Header.fromstring(client.get(f"{V1}/rigs/heron/framings/1/wcs.fits").text)
    assert header["CTYPE1"] == "RA---TAN"
    assert client.get(f"{V1}/rigs/heron/framings/1/wcs.fits?tile=7").status_code == 404
    assert client.get(f"{V1}/rigs/heron/framings/9/tiles.csv").status_code == 404


def test_the_board_for_any_site_and_night(client):
    tonight = client.get(f"{V1}/board").json()
    assert tonight["night"]["site"] == "Alto de Veleda" and tonight["night"]["day"] == "2026-11-25"
    summer = client.get(f"{V1}/board?site=town-terrace&on=2027-07-10").json()
    assert summer["night"]["site"] == "Town terrace below Veleda"
    assert summer["hours"] != tonight["hours"]
    assert client.get(f"{V1}/board?site=none").status_code == 404


def test_targets_out_and_in_again(client):
    for path in ("targets.csv", "targets.vot"):
        text = client.get(f"{V1}/{path}").text
        told = client.post(f"{V1}/targets/file", content=text).json()
        assert told["added"] == 8 and not told["faults"] and not told["kept"]
    kept = client.post(f"{V1}/targets/file?keep=true", content="name,ra,dec\nM51,202.47,47.2\nX,1,99\n").json()
    assert kept["kept"] and kept["added"] == 1 and kept["faults"][0]["line"] == 3
    assert client.get(f"{V1}/targets").json()[-1]["body"]["name"] == "M51"
    for bad in (b"\xff\xfe", b"nothing,here\n1,2"):
        assert (
            client.post(f"{V1}/targets/file?keep=true", content=bad).json()["faults"][0]["faults"][0]["field"] == "file"
        )
    assert len(client.get(f"{V1}/targets").json()) == 9
