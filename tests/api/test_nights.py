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
    assert client.get(f"{V1}/board?night={on}").status_code == 422


def test_the_night_is_ranked_for_a_rig(client):
    rig = client.get(f"{V1}/rigs/heron").json()["rig"]
    answer = client.post(f"{V1}/sky/ranking", json={"rig": rig}).json()
    assert answer["facts"]["site"] == "Alto de Veleda" and len(answer["best"]) == 60
    listed = client.post(f"{V1}/sky/ranking", json={"rig": rig, "listed": True, "site": "town-terrace"}).json()
    framed = {item["target"]["name"] for item in rig["framings"]}
    names = [item["target"]["name"] for item in listed["best"]]
    assert set(names) > framed and names[0] in framed
    nowhere = client.post(f"{V1}/sky/ranking", json={"rig": {**rig, "site": None}}).json()
    assert nowhere["because"]["text"] == "no site for this rig"
    bare = client.post(f"{V1}/sky/ranking", json={"rig": {"name": "x", "site": rig["site"]}}).json()
    assert bare["because"] and bare["facts"]
    assert client.post(f"{V1}/sky/ranking", json={"rig": rig, "site": "none"}).status_code == 404


def test_several_rigs_share_the_night_and_each_object_goes_to_the_one_that_suits_it_best(client):
    heron, bittern = (client.get(f"{V1}/rigs/{item}").json()["rig"] for item in ("heron", "bittern"))
    alone = {
        name: {
            worth["target"]["id"]: worth["score"]
            for worth in client.post(f"{V1}/sky/ranking", json=asked).json()["best"]
        }
        for name, asked in (("Heron", {"rig": heron}), ("Bittern", {"rig": bittern, "site": "alto-de-veleda"}))
    }
    both = client.post(
        f"{V1}/sky/ranking", json={"rig": heron, "beside": ["bittern"], "site": "alto-de-veleda"}
    ).json()["best"]
    assert {worth["rig"] for worth in both} == {"Heron", "Bittern"}
    assert [worth["score"] for worth in both] == sorted((worth["score"] for worth in both), reverse=True)
    for worth in both:
        lines = [scores[worth["target"]["id"]] for scores in alone.values() if worth["target"]["id"] in scores]
        assert worth["score"] == pytest.approx(max(lines))
    galaxies = client.post(f"{V1}/sky/ranking", json={"rig": heron, "kinds": ["galaxy"]}).json()["best"]
    assert galaxies and {worth["target"]["kind"] for worth in galaxies} == {"galaxy"}
    assert client.post(f"{V1}/sky/ranking", json={"rig": heron, "beside": ["nobody"]}).status_code == 404


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
        answer = client.put(f"{V1}/sites/town-terrace", json=body)
        assert answer.status_code == 422 and field in answer.json()["errors"][0]["field"]
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


def test_a_framing_is_recalled_exactly_after_it_was_changed_and_taken_off(client):
    kept = client.get(f"{V1}/rigs/heron").json()
    rig, ask = kept["rig"], f"{V1}/rigs/heron/earlier-framings?target="
    assert client.get(ask + "ngc-281").json() == []
    number = next(i for i, framing in enumerate(rig["framings"]) if framing["target"]["id"] == "ngc-281")
    first = rig["framings"][number]
    turned = {**first, "position_angle_deg": 133.7, "centre_ra_deg": 13.123456789012}
    for revision, framings in ((1, [turned]), (2, []), (3, [first])):
        answer = client.put(
            f"{V1}/rigs/heron", json={"rig": {**rig, "framings": framings, "binning": 2}, "base": revision}
        )
        assert answer.status_code == 200
    (only,) = client.get(ask + "ngc-281").json()
    assert (only["revision"], only["framing"]) == (2, turned)
    assert client.get(ask + "NGC 281").json() == [only]
    assert client.get(ask + "nothing").json() == []
    assert client.get(f"{V1}/rigs/nobody/earlier-framings?target=x").status_code == 404
    assert client.get(ask).status_code == 422


def test_the_board_for_any_site_and_night(client):
    tonight = client.get(f"{V1}/board").json()
    assert tonight["night"]["site"] == "Alto de Veleda" and tonight["night"]["day"] == "2026-11-25"
    summer = client.get(f"{V1}/board?site=town-terrace&night=2027-07-10").json()
    assert summer["night"]["site"] == "Town terrace below Veleda"
    assert summer["hours"] != tonight["hours"]
    assert client.get(f"{V1}/board?site=none").status_code == 404


def test_targets_out_and_in_again(client):
    for path in ("targets.csv", "targets.vot"):
        text = client.get(f"{V1}/{path}").text
        answer = client.post(f"{V1}/targets/file", content=text).json()
        assert answer["added"] == 8 and not answer["faults"] and not answer["kept"]
    kept = client.post(f"{V1}/targets/file?keep=true", content="name,ra,dec\nM51,202.47,47.2\nX,1,99\n").json()
    assert kept["kept"] and kept["added"] == 1 and kept["faults"][0]["line"] == 3
    assert client.get(f"{V1}/targets").json()[-1]["body"]["name"] == "M51"
    for bad in (b"\xff\xfe", b"nothing,here\n1,2"):
        assert (
            client.post(f"{V1}/targets/file?keep=true", content=bad).json()["faults"][0]["faults"][0]["field"] == "file"
        )
    assert len(client.get(f"{V1}/targets").json()) == 9


@pytest.mark.parametrize(("text", "place"), [("40°54′N 2°36′W", (40.9, -2.6)), ("2.6W 40.9N", (40.9, -2.6))])
def test_a_place_is_read_as_people_write_it(client, text, place):
    answer = client.get("/api/v1/sky/place", params={"text": text}).json()
    assert (answer["latitude_deg"], answer["longitude_deg"]) == place


def test_a_place_that_cannot_be_read_names_the_field(client):
    answer = client.get("/api/v1/sky/place", params={"text": "95, 100"})
    assert answer.status_code == 422 and "latitude_deg: cannot be 95" in answer.json()["detail"]


def test_the_catalogue_by_kind_size_night_and_fit(client):
    wanted = {"kinds": ["galaxy"], "larger_arcmin": 5, "hours": 3, "fits": True}
    report = client.post(
        "/api/v1/sky/objects", json={"wanted": wanted, "site": "alto-de-veleda", "rig": "bittern", "most": 5}
    ).json()
    assert report["total"] > 5 == len(report["found"])
    for result in report["found"]:
        assert result["target"]["kind"] == "galaxy" and result["hours"] >= 3 and 0.125 <= result["span"] <= 1
    assert client.post("/api/v1/sky/objects", json={"wanted": {"brighter_mag": -5}}).json()["total"] == 0
    for lacking, words in (({"hours": 2}, "site"), ({"fits": True}, "rig")):
        answer = client.post("/api/v1/sky/objects", json={"wanted": lacking})
        assert answer.status_code == 422 and answer.json()["detail"].startswith(words)


def test_a_month_without_hours_asks_for_two(client):
    asked = {"wanted": {"kinds": ["galaxy"]}, "site": "alto-de-veleda", "month": 4, "most": 500}
    plain = client.post("/api/v1/sky/objects", json=asked).json()
    asked["wanted"]["hours"] = 2
    assert plain == client.post("/api/v1/sky/objects", json=asked).json()
    asked["wanted"]["hours"] = 0.1
    assert plain["total"] < client.post("/api/v1/sky/objects", json=asked).json()["total"]


def _years(client):
    kept = [item["id"] for item in client.get("/api/v1/targets").json()]
    return client.post("/api/v1/sky/years", json={"site": "alto-de-veleda", "targets": [*kept, "no-such"]}).json()


def test_the_year_of_the_whole_list(client):
    years = {line["name"]: line["year"] for line in _years(client)}
    assert len(years) == 8
    assert years["NGC 891"]["best"][0]["first"][5:7] in ("10", "11", "12")


def test_which_rig_a_month_suits(client):
    answer = client.get("/api/v1/sky/months").json()
    assert answer["months"][0] == "November" and len(answer["rows"]) == 4
    april = answer["months"].index("April")
    assert answer["suits"][april] == "bittern" and answer["galaxy_share"][april] > 0.8
    assert any(
        "Wren" in words["text"] and "April" in words["text"] and "galaxy month" in words["text"]
        for words in answer["words"]
    )
    client.delete("/api/v1/sites/alto-de-veleda")
    client.delete("/api/v1/sites/town-terrace")
    assert client.get("/api/v1/sky/months").json() is None


def test_the_moon_and_planets_are_found_framed_and_judged(client):
    jupiter = client.get("/api/v1/sky/search", params={"q": "jup"}).json()[0]
    assert jupiter["body"] == "Jupiter" and 0.5 < jupiter["major_arcmin"] < 0.9
    rig = client.get("/api/v1/rigs/bittern").json()["rig"]
    old = jupiter | {"ra_deg": 10.0, "dec_deg": 3.0}  # where it was framed long ago
    framing = client.post("/api/v1/sky/framing", json={"rig": rig, "target": old}).json()
    rig = rig | {"framings": [framing], "purposes": ["planetary"]}
    drawn = client.post("/api/v1/sky/footprint", json={"rig": rig}).json()
    assert drawn["view"]["ra_deg"] == pytest.approx(jupiter["ra_deg"], abs=0.5)
    assert drawn["footprint"]["share_inside"] == 1
    answer = client.post("/api/v1/evaluate", json={"rig": rig}).json()["evaluation"]["findings"]
    disk = next(f for f in answer if f["code"] == "V3")
    assert disk["measure"]["text"].endswith("px") and "38." in disk["reason"]["text"]
    assert not any(f["code"] == "A3" for f in answer)
    best = client.post("/api/v1/sky/ranking", json={"rig": rig}).json()["best"]
    assert {"Jupiter", "Saturn", "Moon"} <= {worth["target"]["name"] for worth in best}


def test_a_hop_card_is_printed(client):
    drawn = client.get("/api/v1/rigs/wren/framings/0/hop-card.svg?field_deg=5")
    assert drawn.headers["content-type"] == "image/svg+xml" and "Hop card: Veil complex" in drawn.text
    printed = client.get("/api/v1/rigs/wren/framings/0/hop-card.pdf")
    assert printed.content.startswith(b"%PDF")
    assert client.get("/api/v1/rigs/wren/framings/9/hop-card.svg").status_code == 404
    assert client.get("/api/v1/rigs/wren/framings/0/hop-card.svg?field_deg=99").status_code == 422


def test_other_rigs_are_named_where_they_do_better(client):
    rig = client.get("/api/v1/rigs/magpie").json()["rig"]
    answer = client.post("/api/v1/evaluate?fixes=true", json={"rig": rig}).json()["evaluation"]["findings"]
    veil = next(f for f in answer if f["code"] == "A4" and f["subject"] == "Veil complex")
    assert veil["elsewhere"][0]["rig_id"] == "wren" and veil["elsewhere"][0]["leads_to"] == "ok"
