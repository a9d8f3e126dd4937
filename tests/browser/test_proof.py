"""Proof by hand: frames dropped, the star map and its cause, the focal length taken as measured; what is no frame is told."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from dravel.stand_ins.drill import FAULTS, drill
from dravel.stand_ins.picture import Faults, PictureRig, random_stars, take
from dravel.stand_ins.taking import write
from tests.browser.conftest import finding, saved, step
from tests.terms import T, like

RIG = PictureRig(1900, 1300, 3.5, 4.3, 1.945, 3e6, 1.5, 0.002, 1.6, 17_000, 0.27)


@pytest.fixture(scope="module")
def frames(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Three frames of Heron: as designed, trailed, leaning; solved at a scale 5 % larger than designed."""
    folder = tmp_path_factory.mktemp("frames")
    stars = random_stars(RIG, 800, 1, brightest=7)
    scale = 1.945 * 1.05 / 3600
    for name, faults in (
        ("a-good", Faults(fwhm_px=2.0)), ("b-long", Faults(fwhm_px=2.0, guide_px=0.8, guide_deg=30)),
        ("c-leans", Faults(fwhm_px=2.0, tilt_um=120, focus_um=20)),
    ):  # fmt: skip
        write(
            take(RIG, stars, faults, 120, 1), folder / f"{name}.fits", CD1_1=-scale, CD1_2=0.0, CD2_1=0.0, CD2_2=scale
        )
    (folder / "d-odd.fits").write_text("no picture at all")
    return folder


def test_frames_are_dropped_and_the_focal_length_is_taken_as_measured(page: Page, address: str, frames: Path):
    page.goto(f"{address}/rigs/heron/frames")
    expect(page.get_by_text(T.frames.noFrameOfThisRigWas)).to_be_visible()
    page.get_by_label(T.frames.framesInFits).set_input_files(sorted(frames.glob("*.fits")))
    strip = page.get_by_test_id("frames").get_by_role("button")
    expect(strip).to_have_count(3)
    expect(page.get_by_test_id("coming")).to_contain_text("d-odd.fits: this is no FITS file")
    page.get_by_test_id("coming").get_by_role("button").click()
    expect(page.get_by_test_id("coming")).to_be_empty()
    causes = page.get_by_test_id("causes")
    expect(causes).to_contain_text("Sensor tilt")
    strip.nth(2).focus()
    page.keyboard.press("ArrowLeft")
    expect(strip.nth(1)).to_have_attribute("aria-pressed", "true")
    expect(causes).to_contain_text("Stars elongated in one direction")
    expect(page.get_by_test_id("star-map").locator(".star-shape").first).to_be_attached()
    page.keyboard.press("ArrowLeft")
    expect(causes).to_contain_text("No fault found")
    held = page.get_by_test_id("designed")
    expect(held).to_contain_text("Pixel scale")
    page.get_by_role("button", name=like(T.frames.takeMeasuredFocalMmMmAs)).click()
    saved(page, 2)
    expect(page.locator("[data-figure='optics.focal_length_mm']").first).to_contain_text("354")
    expect(finding(page, "O6")).to_be_visible()
    expect(held.get_by_role("row", name=re.compile("Pixel scale"))).to_contain_text("2.042″")
    expect(page.get_by_role("button", name=like(T.frames.takeMeasuredFocalMmMmAs))).to_have_count(0)
    page.reload()
    expect(strip).to_have_count(3)
    page.get_by_role("button", name=T.frames.putThisFrameAway).click()
    expect(strip).to_have_count(2)


def test_a_guide_log_is_read_and_its_error_taken_as_the_mount_s(page: Page, address: str, tmp_path: Path):
    rows = "".join(f"{2 * k},{(k * 37 % 11 - 5) / 2},{(k * 53 % 13 - 6) / 2}\n" for k in range(300))
    log, odd = tmp_path / "night.csv", tmp_path / "odd.csv"
    log.write_text("time_s,ra_error_arcsec,dec_error_arcsec\n" + rows)
    odd.write_text("hello\n")
    page.goto(f"{address}/rigs/heron/frames")
    part = page.get_by_test_id("guide-log")
    page.get_by_label(T.frames.guideLogAsCsv).set_input_files(odd)
    expect(part.get_by_role("alert")).to_contain_text("its heading lacks time_s")
    page.get_by_label(T.frames.guideLogAsCsv).set_input_files(log)
    expect(part).to_contain_text(T.frames.isBeyondWhatTheRigReckons)
    part.get_by_role("button", name=like(T.frames.takeRmsArcsecAsTheMounts)).click()
    saved(page, 2)
    expect(step(page, "guiding")).not_to_contain_text("0.41 px")


@pytest.fixture(scope="module")
def spacings(tmp_path_factory: pytest.TempPathFactory) -> list[Path]:
    """Heron at three spacings, its corners best at 54.7 mm."""
    folder, rig = (
        tmp_path_factory.mktemp("spacings"),
        PictureRig(1500, 1125, 3.5, 4.3, 1.945, 3e6, 1.5, 0.002, 1.6, 17_000, 0.27),
    )
    for mm in (54, 55, 56):
        off = mm - 54.7
        made = take(
            rig,
            random_stars(rig, 700, 1, brightest=7),
            Faults(fwhm_px=2.0, radial_px=1.1 * off, curved_um=15 * off),
            120,
            mm,
        )
        write(made, folder / f"{mm}.fits")
    return sorted(folder.glob("*.fits"))


def test_a_series_of_spacings_ends_in_a_ring_laid(page: Page, address: str, spacings: list[Path]):
    page.goto(f"{address}/rigs/heron/frames")
    page.get_by_label(T.frames.framesInFits).set_input_files(spacings)
    strip = page.get_by_test_id("frames").get_by_role("button")
    expect(strip).to_have_count(3)
    expect(page.get_by_test_id("series")).to_have_count(0)
    for frame, mm in zip(strip.all(), ("54", "55", "56"), strict=True):
        frame.click()
        expect(frame).to_have_attribute("aria-pressed", "true")
        field = page.get_by_test_id("taken").get_by_label("Spacing it was taken at")
        expect(field).to_have_value("55.7")
        field.fill(mm)
        field.press("Enter")
        expect(field).to_have_value(mm)
    series = page.get_by_test_id("series")
    expect(series).to_contain_text(re.compile(r"Best corners at back focus 54\.[678]\d ± 0\.\d\d mm"))
    expect(series.get_by_test_id("foot")).to_be_visible()
    series.get_by_role("button", name=T.frames.layIt).click()
    saved(page, 2)
    expect(series).to_contain_text("OK")
    step(page, "spacing").click()
    expect(page.get_by_text(re.compile(r"54\.[678]\d? mm")).first).to_be_visible()


def test_the_lens_shows_a_star_and_walks_by_keys(page: Page, address: str, frames: Path):
    page.goto(f"{address}/rigs/heron/frames")
    page.get_by_label(T.frames.framesInFits).set_input_files([frames / "b-long.fits"])
    chart = page.get_by_test_id("star-map")
    expect(chart).to_be_visible()
    chart.hover(position={"x": 60, "y": 60})
    expect(page.get_by_test_id("loupe")).to_be_visible()
    expect(page.get_by_text(re.compile(r"px, elongation 1\.\d\d along \d+°")).first).to_be_visible()
    page.mouse.move(0, 0)
    expect(page.get_by_test_id("loupe")).to_have_count(0)
    chart.focus()
    page.keyboard.press("ArrowRight")
    first = page.get_by_test_id("loupe").get_attribute("transform")
    page.keyboard.press("ArrowDown")
    expect(page.get_by_test_id("loupe")).not_to_have_attribute("transform", first or "")
    page.keyboard.press("Escape")
    expect(page.get_by_test_id("loupe")).to_have_count(0)


def test_a_drill_is_solved(page: Page, address: str):
    page.add_init_script("Math.random = () => 0.5")  # one seed: what it hides is looked up below
    page.goto(f"{address}/rigs/heron/frames")
    page.get_by_role("button", name=T.frames.trainOnAHiddenFault).click()
    trainer = page.get_by_test_id("trainer")
    expect(trainer.get_by_test_id("star-map")).to_be_visible()
    trainer.get_by_role("button", name="a sub of a tenth of the length").click()
    expect(trainer).to_contain_text(re.compile(r"a sub of a tenth of the length: \d+ stars"))
    trainer.get_by_role("button", name="the guide log").click()
    expect(trainer).to_contain_text("RMS")
    (hidden,) = drill(1_000_000_000).hidden
    trainer.get_by_role("checkbox", name=FAULTS[hidden]).check()
    trainer.get_by_role("button", name=T.frames.decide).click()
    answer = like(T.frames.whichHiddenAfterSeenMoreWhich2, which=T.frames.thatIsIt, hidden=FAULTS[hidden], seen=2)
    expect(trainer.get_by_role("status")).to_contain_text(answer)
    expect(trainer.get_by_test_id("drill-score")).to_contain_text(
        like(T.frames.rightOfAnsweredFoundConfused, right=1, answered=1)
    )
    trainer.get_by_role("button", name=T.frames.backToTheFrames).click()
    expect(page.get_by_role("button", name=T.frames.measureFrames)).to_be_visible()


def test_measuring_can_be_stopped(page: Page, address: str, frames: Path):
    page.goto(f"{address}/rigs/heron/frames")
    expect(page.get_by_text(T.frames.noFrameOfThisRigWas)).to_be_visible()
    page.get_by_label(T.frames.framesInFits).set_input_files(sorted(frames.glob("[abc]-*.fits")))
    page.get_by_role("button", name=T.common.stop, exact=True).click()
    expect(page.get_by_test_id("coming")).to_be_empty()
    expect(page.get_by_role("button", name=T.common.stop, exact=True)).to_have_count(0)
    assert page.get_by_test_id("frames").get_by_role("button").count() < 3
