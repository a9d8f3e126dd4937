"""The log over the API: a night typed, found in totals, marks, calendar and search; pictures and documents; nothing lost."""

import io
from datetime import date

import pytest
from PIL import Image

from dravel.core.frames.claims import FrameClaims
from dravel.core.frames.reading import FrameReading
from dravel.core.model import Rig
from dravel.store.tables import FrameRow, SessionRow

V1 = "/api/v1"
SUBS = [{"target": "ic-1805", "name": "IC 1805", "filter": "", "sub_s": 180, "planned": 40, "taken": 40, "kept": 36}]


def night(client, key="key-for-a-night", **changes):
    body = {"rig_id": "heron", "night": "2026-11-20", "subs": SUBS, **changes}
    return client.post(f"{V1}/sessions", json=body, headers={"idempotency-key": key})


def test_a_night_typed_counts_once_and_in_every_total(client):
    made = night(client)
    assert made.status_code == 201 and made.json()["told"] == []
    assert night(client).json()["id"] == made.json()["id"]
    totals = client.get(f"{V1}/log/totals").json()
    assert totals["light_s"] == 36 * 180 and totals["nights"] == 1
    light = next(total for total in totals["targets"] if total["rig_id"] == "heron" and total["target"] == "ic-1805")
    assert light["kept_s"] == 36 * 180 and light["name"] == "IC 1805"
    assert light["open_s"] is None or light["open_s"] >= 0
    page = client.get(f"{V1}/sessions").json()
    assert page["of"] == 1 and page["sessions"][0]["record"]["origin"] == "typed"
    month = client.get(f"{V1}/log/month", params={"month": "2026-11-01"}).json()
    assert next(item for item in month["nights"] if item["day"] == "2026-11-20")["things"][0]["light_s"] == 36 * 180
    ics = client.get(f"{V1}/log/calendar", params={"month": "2026-11-01"})
    assert ics.headers["content-type"].startswith("text/calendar") and "SUMMARY:Heron: IC 1805" in ics.text
    assert client.get(f"{V1}/find", params={"words": "heron 2026-11-20"}).json()[0]["kind"] == "session"


def test_the_calendar_is_read_by_a_second_reader(client):
    from icalendar import Calendar

    night(client)
    made = Calendar.from_ical(client.get(f"{V1}/log/calendar", params={"month": "2026-11-01"}).content)
    events = [item for item in made.walk("VEVENT") if "IC 1805" in str(item["summary"])]
    assert events[0].decoded("dtstart") == date(2026, 11, 20) and "moon" in str(events[0]["description"])


def test_a_session_is_changed_and_a_stale_change_refused(client):
    made = night(client).json()
    record = {**made["record"], "note": "Dew from two on."}
    url = f"{V1}/sessions/{made['id']}"
    assert client.put(url, json={"base": 1, "record": record}).json()["version"] == 2
    assert client.put(url, json={"base": 1, "record": {**record, "note": "other"}}).status_code == 409
    assert client.get(url).json()["record"]["note"] == "Dew from two on."
    away = client.put(f"{url}/away", json={"away": True})
    assert away.status_code == 200 and client.get(f"{V1}/log/totals").json()["light_s"] == 0
    assert client.get(f"{V1}/find", params={"words": "dew from two"}).json()[0]["away"] is True
    client.put(f"{url}/away", json={"away": False})
    assert client.get(f"{V1}/log/totals").json()["light_s"] == 36 * 180


@pytest.mark.parametrize(("changes", "said"), [
    ({"rig_id": "nobody"}, "nobody"),
    ({"night": "20.11.2026"}, "night"),
    ({"subs": [{**SUBS[0], "kept": 41}]}, "41 subs cannot be accepted of 40"),
    ({"ended": "2026-11-20T20:00:00Z", "began": "2026-11-20T22:00:00Z"}, "ended"),
    ({"marks": [{"sort": "weight", "value": -1}]}, "Counterweight"),
    ({"conditions": {"seeing_arcsec": 99}}, "seeing"),
    ({"began": "2026-11-20T22:00:00"}, "began"),
])  # fmt: skip
def test_what_cannot_be_is_refused_by_its_field(client, changes, said):
    answer = night(client, **changes)
    assert answer.status_code in (404, 422) and said.lower() in answer.text.lower(), answer.text
    assert client.get(f"{V1}/sessions").json()["of"] == 0


def test_doubtful_nights_are_kept_and_told(client):
    night(client)
    again = night(client, key="another-key-here").json()
    assert any("may count twice" in item["text"] for item in again["told"])
    client.delete(f"{V1}/rigs/wren")
    away = night(client, key="a-third-key-here", rig_id="wren").json()
    assert any("archived" in item["text"] for item in away["told"])


def test_marks_go_into_the_rig_by_one_revision(client):
    night(client, marks=[
        {"sort": "saddle", "value": 123}, {"sort": "drawtube", "value": 30, "temperature_c": 5},
    ])  # fmt: skip
    result = client.get(f"{V1}/log/marks/heron").json()
    saddle = next(item for item in result["marks"] if item["sort"] == "saddle")
    assert saddle["takes"] and saddle["card"] == "telescope"
    rig = client.get(f"{V1}/rigs/heron").json()
    took = client.post(
        f"{V1}/log/marks/heron/take", json={"base": rig["revision"], "mark": {"sort": "saddle", "value": 123}}
    )
    assert took.json()["rig"]["saddle_mm"] == 123 and took.json()["revision"] == rig["revision"] + 1
    again = client.post(
        f"{V1}/log/marks/heron/take", json={"base": rig["revision"] + 1, "mark": {"sort": "saddle", "value": 123}}
    )
    assert again.status_code == 422 and "the same already" in again.text


def test_a_pinned_revision_is_held_against_later_ones(client):
    rig = client.get(f"{V1}/rigs/heron").json()
    pinned = client.put(f"{V1}/log/as-built/heron", json={"revision": rig["revision"]}).json()
    assert pinned["pinned"] == rig["revision"] and pinned["change"] is None
    changed = {**rig["rig"], "saddle_mm": 77}
    client.put(f"{V1}/rigs/heron", json={"rig": changed, "base": rig["revision"]})
    view = client.get(f"{V1}/log/as-built/heron").json()
    assert view["revision"] == rig["revision"] + 1 and view["change"] is not None
    assert client.put(f"{V1}/log/as-built/heron", json={"revision": 99}).status_code == 404
    assert client.put(f"{V1}/log/as-built/heron", json={"revision": None}).json()["pinned"] is None
    made = night(client).json()
    assert made["record"]["rig_revision"] == rig["revision"] + 1


def picture(size=(2400, 1800), form="JPEG", **more):
    made = Image.effect_noise(size, 40).convert("RGB")
    exif = Image.Exif()
    exif[0x010E] = "at my house"
    exif.get_ifd(0x8825)[2] = (40.0, 54.0, 12.0)
    exif[0x0112] = 6  # lies on its side
    out = io.BytesIO()
    made.save(out, form, exif=exif, **more)
    return out.getvalue()


@pytest.mark.parametrize("form", ["JPEG", "PNG"])
def test_pictures_are_small_upright_and_know_no_place(client, form):
    made = night(client).json()
    given = picture(form=form)
    kept = client.post(f"{V1}/papers/of/session/{made['id']}", params={"name": "mark on the shaft"}, content=given)
    assert kept.status_code == 201 and kept.json()["media"] == "image/jpeg"
    body = client.get(f"{V1}/papers/{kept.json()['id']}").content
    shown = Image.open(io.BytesIO(body))
    assert shown.size == (1200, 1600) and dict(shown.getexif()) == {} and not {"exif", "comment"} & set(shown.info)
    assert b"my house" not in body and b"GPS" not in body and len(body) < len(given)
    again = client.post(f"{V1}/papers/of/session/{made['id']}", content=given).json()
    assert again["id"] == kept.json()["id"]
    assert client.get(f"{V1}/sessions").json()["sessions"][0]["pictures"][0]["name"] == "mark on the shaft"
    client.put(f"{V1}/papers/{kept.json()['id']}/away", json={"away": True})
    assert client.get(f"{V1}/papers/of/session/{made['id']}").json() == []


@pytest.mark.parametrize("given", [b"", b"no picture", picture((64, 64))[:300], b"GIF89a" + bytes(200)])
def test_what_is_no_picture_is_told(client, given):
    made = night(client).json()
    answer = client.post(f"{V1}/papers/of/session/{made['id']}", params={"name": "a.jpg"}, content=given)
    assert answer.status_code == 422 and "a.jpg" in answer.text
    assert client.get(f"{V1}/papers/of/session/{made['id']}").json() == []


def test_a_picture_of_too_many_pixels_is_never_opened(client):
    made = night(client).json()
    out = io.BytesIO()
    Image.new("1", (20_000, 20_000)).save(out, "PNG")
    answer = client.post(f"{V1}/papers/of/session/{made['id']}", content=out.getvalue())
    assert answer.status_code == 422 and "pixels" in answer.text


def test_documents_stand_with_their_part(client):
    body = b"%PDF-1.4 test report of the reducer"
    kept = client.post(f"{V1}/papers/of/part/drawer-21", params={"name": "test report"}, content=body)
    assert kept.status_code == 201
    got = client.get(f"{V1}/papers/{kept.json()['id']}")
    assert got.content == body and got.headers["content-disposition"].startswith("attachment")
    assert client.get(f"{V1}/find", params={"words": "test report"}).json()[0]["place"] == "/shelf?part=drawer-21"
    assert client.post(f"{V1}/papers/of/part/nothing", content=body).status_code == 404
    assert client.post(f"{V1}/papers/of/part/drawer-21", content=b"<html>").status_code == 422
    large = client.post(f"{V1}/papers/of/part/drawer-21", content=b"%PDF-" + bytes(20_000_000))
    assert large.status_code == 413 and "20 MB" in large.text


def reading(at, name="a.fits", target="IC 1805"):
    return FrameReading(
        name=name, width=100, height=100, claims=FrameClaims(at=at, exposure_s=180, target=target), found=9, fitted=9,
        saturated=0, sky_adu=1, noise_adu=1, fwhm_px=2.0, elongation=1.0, angle_deg=0, field=None, zones=(), stars=(),
        because="few stars", notes=(), picture="", picture_width=0, picture_height=0,
    )  # fmt: skip


def test_frames_become_a_night_and_later_ones_join_it(client, demo_store):
    for k in range(3):
        demo_store.frames.add("heron", reading(f"2026-11-20T2{k}:00:00"))
    made = client.post(f"{V1}/sessions/from-frames", json={"rig_id": "heron"}).json()
    (item,) = made["sessions"]
    assert item["record"]["night"] == "2026-11-20" and item["record"]["subs"][0]["taken"] == 3 and item["frames"] == 3
    demo_store.frames.add("heron", reading("2026-11-20T21:30:00"))
    assert client.get(f"{V1}/sessions/{item['id']}").json()["frames"] == 4
    again = client.post(f"{V1}/sessions/from-frames", json={"rig_id": "heron"}).json()
    assert again["sessions"] == [] and "belong to no session" in again["told"][-1]["text"]


def test_a_typed_night_takes_the_frames_of_its_hours(client, demo_store):
    demo_store.frames.add("heron", reading("2026-11-20T19:00:00"))
    demo_store.frames.add("heron", reading("2026-11-22T19:00:00"))
    made = night(client, began="2026-11-20T18:30:00Z", ended="2026-11-20T23:00:00Z").json()
    assert made["frames"] == 1


def test_hands_tell_of_parts_that_two_rigs_share(client):
    rig = client.get(f"{V1}/rigs/heron").json()["rig"]
    twin = client.post(f"{V1}/rigs", json={"rig": {**rig, "name": "Twin"}}).json()
    answer = client.post(f"{V1}/log/hands", json={"rigs": ["heron", twin["id"]]}).json()
    assert answer[0]["double"] and "Heron and Twin" in answer[0]["words"]["text"]
    assert Rig.model_validate(twin["rig"]).name == "Twin"


def test_finish_says_why_and_when(client):
    result = client.get(f"{V1}/log/finish").json()
    assert result and all(item["open_s"] > 0 and " open" in item["words"]["text"] for item in result)


@pytest.mark.parametrize(
    "words", ["", "  ", '"', "*", "a OR b", "NEAR(", "title:heron", "'; DROP TABLE found; --", "ñandú", "x" * 120]
)
def test_no_words_break_the_search(client, words):
    assert client.get(f"{V1}/find", params={"words": words}).status_code == 200


@pytest.mark.parametrize(("words", "kind", "title"), [
    ("heron", "rig", "Heron"), ("21 mm filt", "part", "21 mm filter drawer"), ("heart neb", "target", "IC 1805"),
    ("S1", "rule", None), ("ngc 7789", "sky", "NGC 7789"), ("veleda", "site", "Alto de Veleda"),
])  # fmt: skip
def test_one_field_finds_what_is_kept_the_rules_and_the_sky(client, words, kind, title):
    result = client.get(f"{V1}/find", params={"words": words}).json()
    here = next(item for item in result if item["kind"] == kind)
    assert title is None or here["title"] == title
    assert here["place"].startswith("/")


def test_a_fix_with_a_long_label_is_saved(client):
    """A label of a fix that lays, takes out and slides many things is the note of its revision."""
    rig = client.get(f"{V1}/rigs/heron").json()
    body = {"rig": {**rig["rig"], "summary": "other"}, "base": rig["revision"], "note": "slide the weights; " * 60}
    assert client.put(f"{V1}/rigs/heron", json=body).status_code == 200


def test_light_leaves_as_csv(client):
    night(client, subs=[{**SUBS[0], "filter": "=evil"}])
    text = client.get(f"{V1}/sessions/light.csv").text.splitlines()
    assert (
        text[0].startswith("night,rig,target")
        and text[1] == "2026-11-20,Heron,IC 1805,'=evil,180.0,40,40,36,,Alto de Veleda"
    )


@pytest.mark.parametrize(
    "body", ["no JSON", "{}", '{"night": "2026-11-20", "rig_id": "heron", "subs": [{"kept": null}]}']
)
def test_a_damaged_session_is_named_and_in_nobodys_way(client, demo_store, body):
    night(client)
    other = night(client, key="the-other-night", night="2026-11-18").json()["id"]
    with demo_store.database.write() as session:
        session.get(SessionRow, other).body = body
    assert client.get(f"{V1}/sessions").json()["sessions"][0]["record"]["night"] == "2026-11-20"
    assert client.get(f"{V1}/log/totals").json()["light_s"] == 36 * 180
    assert client.get(f"{V1}/log/month", params={"month": "2026-11-01"}).status_code == 200
    assert client.get(f"{V1}/sessions/{other}").status_code == 422
    named = client.get(f"{V1}/damaged").json()
    assert [(item["kind"], item["id"]) for item in named] == [("session", other)]
    assert client.get(f"{V1}/damaged/session/{other}").text == body
    assert client.get(f"{V1}/keep/export").status_code == 200


def test_a_damaged_frame_is_in_nobodys_way(client, demo_store):
    kept = demo_store.frames.add("heron", reading("2026-11-20T21:00:00"))
    with demo_store.database.write() as session:
        session.get(FrameRow, kept).drawn = b"no zlib"
    rig = client.get(f"{V1}/rigs/heron").json()["rig"]
    assert client.post(f"{V1}/frames", json={"rig": rig, "rig_id": "heron"}).json()["frames"] == []
    assert client.get(f"{V1}/keep/export").status_code == 200


def test_a_key_of_any_letters_makes_one_session_that_can_be_opened(client):
    made = night(client, key="a/key with+letters?".replace(" ", "_")).json()
    assert client.get(f"{V1}/sessions/{made['id']}").status_code == 200
    assert night(client, key="a/key with+letters?".replace(" ", "_")).json()["id"] == made["id"]
    client.post(f"{V1}/rigs", json={"rig": {"name": "x"}}, headers={"idempotency-key": "made-a-rig-before"})
    assert "Idempotency-Key" in night(client, key="made-a-rig-before").text
