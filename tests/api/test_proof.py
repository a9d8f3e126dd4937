"""Frames over the API: measured in a process of their own, held against the rig in hand; what is no frame is refused in words."""

import pathlib
import tempfile
import time

import pytest

from dravel.stand_ins.drill import drill
from dravel.stand_ins.picture import Faults, PictureRig, random_stars, take
from dravel.stand_ins.taking import write

V1 = "/api/v1"
RIG = PictureRig(1400, 1000, 7.6, 8.0, 0.98, 3e7, 1.5, 0.01, 3.0, 60_000)


@pytest.fixture(scope="module")
def frames(tmp_path_factory):
    folder = tmp_path_factory.mktemp("frames")
    stars = random_stars(RIG, 900, 1, brightest=7, faintest=13)
    for name, faults in (("good", Faults(fwhm_px=2.9)), ("long", Faults(fwhm_px=2.9, guide_px=1.2, guide_deg=40))):
        write(
            take(RIG, stars, faults, 60, 1),
            folder / f"{name}.fits",
            CD1_1=-1.0 / 3600,
            CD1_2=0,
            CD2_1=0,
            CD2_2=1.0 / 3600,
        )
    return folder


def measured(client, content: bytes, name: str, rig: str = "bittern") -> dict:
    job = client.post(f"{V1}/jobs/frame/of/{rig}", params={"name": name}, content=content)
    assert job.status_code == 202, job.text
    for _ in range(30_000):
        answer = client.get(f"{V1}/jobs/{job.json()['id']}").json()
        if answer["state"] not in ("waiting", "running"):
            return answer
        time.sleep(0.1)
    raise AssertionError(answer)


def proof(client, rig: str = "bittern", **changes) -> dict:
    body = client.get(f"{V1}/rigs/{rig}").json()["rig"] | changes
    return client.post(f"{V1}/frames", json={"rig": body, "rig_id": rig}).json()


def test_frames_are_measured_kept_and_held_against_the_rig(client, frames):
    assert proof(client)["frames"] == []
    for name in ("good.fits", "long.fits"):
        answer = measured(client, (frames / name).read_bytes(), name)
        assert answer["state"] == "done" and answer["frame"]
    shown = proof(client)["frames"]
    assert [item["reading"]["name"] for item in shown] == ["good.fits", "long.fits"]
    good, long = shown
    assert good["proof"]["causes"] == [] and abs(good["reading"]["fwhm_px"] - 2.9) < 0.1
    assert long["proof"]["causes"][0]["key"] == "guiding" and long["reading"]["elongation"] > 1.2
    assert abs(long["reading"]["angle_deg"] - 40) < 4
    assert good["reading"]["claims"]["simulated"] is True
    scale = next(row for row in good["proof"]["held"] if row["title"]["text"] == "Pixel scale")
    assert scale["measured"]["text"] == "1.000″"
    assert abs(good["proof"]["measured_focal_mm"] - 206.265 * 7.6 / 1.0) < 5
    away = client.post(f"{V1}/frames/{long['id']}/away", json={"away": True})
    assert away.status_code == 200 and len(proof(client)["frames"]) == 1
    client.post(f"{V1}/frames/{long['id']}/away", json={"away": False})
    assert len(proof(client)["frames"]) == 2
    assert proof(client, "heron")["frames"] == []


@pytest.mark.parametrize(("content", "said"), [
    (b"", "does not begin as one"), (b"a text named .fits\n" * 400, "does not begin as one"),
    (b"SIMPLE  =                    T" + b" " * 50, "damaged"), (b"SIMPLE  =" * 4000, "damaged"),
])  # fmt: skip
def test_what_is_no_frame_is_told_and_the_server_lives(client, content, said):
    answer = measured(client, content, "odd.fits")
    assert answer["state"] == "failed" and said in answer["words"]
    assert client.get(f"{V1}/about").status_code == 200 and proof(client)["frames"] == []


def test_a_frame_of_no_rig_is_refused(client):
    assert client.post(f"{V1}/jobs/frame/of/none", content=b"x").status_code == 404
    assert client.post(f"{V1}/frames/none/away", json={}).status_code == 404


def test_a_frame_that_lies_about_its_size_is_bounded(client, frames):
    whole = (frames / "good.fits").read_bytes()
    lies = whole.replace(b"NAXIS1  =                 1400", b"NAXIS1  =            200000000".ljust(30))
    assert lies != whole
    answer = measured(client, lies, "lies.fits")
    assert answer["state"] == "failed"
    cut = measured(client, whole[: len(whole) // 2], "cut.fits")
    assert cut["state"] in ("failed", "done")
    assert client.get(f"{V1}/about").status_code == 200


def test_a_guide_log_is_held_against_the_rig_in_hand(client):
    rig = client.get(f"{V1}/rigs/heron").json()["rig"]
    rows = "".join(f"{2 * k},{(k * 37 % 11 - 5) / 2},{(k * 53 % 13 - 6) / 2}\n" for k in range(300))
    log = "time_s,ra_error_arcsec,dec_error_arcsec\n" + rows
    answer = client.post(f"{V1}/frames/guide-log", json={"rig": rig, "log": log}).json()
    assert (
        answer["beyond"] is True
        and any("beyond it" in line["text"] for line in answer["lines"])
        and 1 < answer["rms_arcsec"] < 3
    )
    odd = client.post(f"{V1}/frames/guide-log", json={"rig": rig, "log": "hello"})
    assert odd.status_code == 422 and "log: its heading lacks" in odd.text


def test_how_the_rig_stood_is_kept_with_a_frame_and_makes_a_series(client):
    """Three spacings of Heron; the change the answer offers is a patch of its rig."""
    rig = PictureRig(1500, 1125, 3.5, 4.3, 1.945, 3e6, 1.5, 0.002, 1.6, 17_000, 0.27)
    stars = random_stars(rig, 700, 1, brightest=7)
    folder = pathlib.Path(tempfile.mkdtemp())
    for mm in (54.0, 55.0, 56.0):
        off = mm - 54.7
        path = folder / f"{mm:g}.fits"
        write(take(rig, stars, Faults(fwhm_px=2.0, radial_px=1.1 * off, curved_um=15 * off), 120, int(mm)), path)
        assert measured(client, path.read_bytes(), path.name, "heron")["state"] == "done"
    view = proof(client, "heron")
    frames = view["frames"][-3:]
    assert view["series"] is None  # all at the rig's own spacing
    assert all(item["reading"]["taken"]["spacing_mm"] == pytest.approx(55.7) for item in frames)
    assert all(item["reading"]["unsolved"] for item in frames)  # stars at random are no place
    for frame, mm in zip(frames, (54.0, 55.0, 56.0), strict=True):
        kept = client.post(f"{V1}/frames/{frame['id']}/taken", json={"spacing_mm": mm})
        assert kept.status_code == 200 and kept.json()["focus"] is None
    series = proof(client, "heron")["series"]
    assert abs(series["reading"]["best_mm"] - 54.7) < 0.2 and series["lays"] and series["change"]
    assert {change["op"] for change in series["change"]} <= {"add", "replace", "remove"}


def test_how_a_frame_was_taken_is_refused_in_words(client):
    assert client.post(f"{V1}/frames/nowhere/taken", json={"spacing_mm": 55}).status_code == 404
    for body, field in (({"spacing_mm": -3}, "spacing_mm"), ({"focus": 1e9}, "focus"), ({"focus": "far"}, "focus")):
        answer = client.post(f"{V1}/frames/nowhere/taken", json=body)
        assert answer.status_code == 422 and answer.json()["errors"][0]["field"].endswith(field)


def test_the_newest_frame_is_judged_with_its_rig(client, frames):
    body = {"rig": client.get(f"{V1}/rigs/bittern").json()["rig"]}
    measured(client, (frames / "long.fits").read_bytes(), "long.fits")

    def codes(**query):
        answer = client.post(f"{V1}/evaluate", params=query, json=body).json()["evaluation"]
        return {item["code"]: item["verdict"] for item in answer["findings"]}

    assert codes(of="bittern")["F1"] == "warning"
    assert not any(code.startswith("F") for code in codes()) and not any(c.startswith("F") for c in codes(of="nobody"))


def test_a_drill_is_asked_decided_and_scored(client):
    rig = client.get(f"{V1}/rigs/heron").json()["rig"]
    book = client.get(f"{V1}/drills").json()
    titles = {item["key"]: item["title"] for item in book["faults"]}
    seed = next(seed for seed in range(99) if drill(seed).hidden == ("focus",))
    frame = client.post(f"{V1}/drills/ask", json={"rig": rig, "seed": seed}).json()
    again = client.post(f"{V1}/drills/ask", json={"rig": rig, "seed": seed, "ask": "refocus"}).json()
    assert again["reading"]["fwhm_px"] < 0.7 * frame["reading"]["fwhm_px"]
    log = client.post(f"{V1}/drills/ask", json={"rig": rig, "seed": seed, "ask": "log"}).json()
    assert log["reading"] is None and any("RMS" in line["text"] for line in log["lines"])
    wrong = client.post(f"{V1}/drills/answer", json={"rig": rig, "seed": seed, "said": ["dew"], "asked": 2}).json()
    assert not wrong["right"] and wrong["hidden"] == [titles["focus"]] and "focus run cures" in wrong["tells"][0]
    right = client.post(f"{V1}/drills/answer", json={"rig": rig, "seed": seed, "said": ["focus"], "asked": 1}).json()
    assert right["right"] and right["score"]["answered"] == book["score"]["answered"] + 2
    assert {"hidden": titles["focus"], "said": titles["dew"], "times": 1} in right["score"]["confused"]


@pytest.mark.parametrize("body", [{"seed": -1}, {"seed": 1.5}, {"count": 3}, {"ask": "luck"}])
def test_a_drill_that_cannot_be_is_refused_by_field(client, body):
    rig = client.get(f"{V1}/rigs/bittern").json()["rig"]
    answer = client.post(f"{V1}/drills/ask", json={"rig": rig, "seed": 1, **body})
    assert answer.status_code == 422 and answer.json()["errors"][0]["field"].endswith(next(iter(body)))


def test_a_rig_without_a_camera_takes_no_drill(client):
    answer = client.post(f"{V1}/drills/ask", json={"rig": {"name": "bare"}, "seed": 1})
    assert answer.status_code == 422 and "no frame can be taken" in answer.json()["detail"]
