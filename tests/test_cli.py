"""The command line, as a user calls it."""

import json
import re
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

import numpy as np
import pytest
from click.testing import Result
from typer.testing import CliRunner

from dravel.cli import _listen, app
from dravel.config import Settings
from dravel.core.steps import STEPS
from dravel.seed import seed_demo
from dravel.stand_ins.picture import Faults, PictureRig, random_stars, take
from dravel.stand_ins.taking import write
from dravel.store import Store

EXAMPLES = Path(__file__).parents[1] / "docs" / "examples"
DRAVEL = [sys.executable, "-m", "dravel.cli"]


def run(*args: object) -> Result:
    """The command line within this process: starting one anew costs a second and a half each time."""
    return CliRunner().invoke(app, [str(arg) for arg in args])


def run_apart(*args: object) -> subprocess.CompletedProcess[str]:
    """The command line as a process of its own."""
    return subprocess.run([*DRAVEL, *map(str, args)], capture_output=True, text=True, timeout=600)


@pytest.mark.parametrize(("name", "code"), [("wren", 0), ("bittern", 0), ("heron", 1), ("magpie", 2)])
def test_check_tells_by_its_exit_code(name, code):
    answer = run("check", EXAMPLES / f"{name}.json")
    assert answer.exit_code == code
    assert "Focal length" in answer.stdout


def test_check_prints_figures_findings_and_fixes():
    text = run("check", EXAMPLES / "magpie.json").stdout
    assert re.search(r"Pixel scale +1\.74 ″/px", text)
    assert re.search(r"^.*◆ O1 .+ 43\.3 \S+ 26\.0 mm$", text, re.M)
    assert re.search(r"→ .*×1\.0 coma corrector, 2-inch", text)


def test_check_as_json():
    answer = json.loads(run("check", EXAMPLES / "heron.json", "--json").stdout)
    assert answer["verdict"] == "warning"
    assert {"figures", "findings", "missing"} <= answer.keys()


@pytest.mark.parametrize(("text", "says"), [("{", "not JSON"), ('{"format":"dravel-rig","version":9}', "version 9")])
def test_check_of_an_unreadable_file(tmp_path, text, says):
    path = tmp_path / "bad.json"
    path.write_text(text)
    answer = run("check", path)
    assert answer.exit_code == 3
    assert says in answer.stderr and "Traceback" not in answer.stderr
    assert run("check", tmp_path / "none.json").exit_code == 3


def test_rules():
    assert re.search(r"^O1 +optics ", run("rules").stdout, re.M)
    page = run("rules", "o2").stdout
    for word in ("Checks", "Why", "Formula", "Source", "Fix", "Criteria"):
        assert word in page
    assert [entry["code"] for entry in json.loads(run("rules", "--json").stdout)][:2] == ["A1", "A2"]
    assert json.loads(run("rules", "O1", "--json").stdout)["code"] == "O1"
    assert run("rules", "Z1").exit_code == 3


def test_a_busy_port_is_told_and_another_offered(tmp_path):
    with socket.socket() as busy:
        busy.bind(("127.0.0.1", 0))
        busy.listen()
        port = busy.getsockname()[1]
        answer = run_apart("demo", "--port", port, "--data", tmp_path)
    assert answer.returncode == 3
    assert f"Port {port}" in answer.stderr and f"--port {port + 1}" in answer.stderr
    assert "Traceback" not in answer.stderr
    assert not list(tmp_path.iterdir())


def _start(data: Path, *args: str) -> tuple[subprocess.Popen[str], str]:
    command = [*DRAVEL, *args, "--port", "0", "--data", str(data)]
    server = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
    assert server.stdout is not None
    match = re.search(r"http://\S+", server.stdout.readline())
    assert match
    return server, match[0]


def _rigs(address: str) -> list[str]:
    for _ in range(6000):
        try:
            with urllib.request.urlopen(f"{address}api/v1/rigs") as answer:
                return [rig["name"] for rig in json.load(answer)]
        except OSError:
            time.sleep(0.1)
    raise AssertionError("the server did not answer")


def test_the_demo_never_touches_the_users_data(tmp_path):
    for command, rigs in (("serve", []), ("demo", ["Wren", "Heron", "Bittern", "Magpie"]), ("serve", [])):
        server, address = _start(tmp_path, command)
        try:
            assert _rigs(address) == rigs
        finally:
            server.terminate()
            server.wait()
    assert {path.name for path in tmp_path.glob("*.sqlite")} == {"dravel.sqlite", "demo.sqlite"}


def test_check_judges_the_spacing_of_a_file(tmp_path):
    document = json.loads((EXAMPLES / "heron.json").read_text())
    del document["rig"]["path"][3]
    path = tmp_path / "short.json"
    path.write_text(json.dumps(document))
    answer = run("check", path)
    assert answer.exit_code == 2
    assert re.search(r"◆ S2 ", answer.stdout)
    assert re.search(r"→ .*0\.7 mm M48 ring", answer.stdout)


def test_the_rule_book_lists_the_steps_in_their_order():
    listed = [line.split()[0] for line in run("rules").stdout.splitlines() if line.strip()]
    assert listed.index("A1") < listed.index("O1") < listed.index("S1") < listed.index("S2") < listed.index("S10")
    assert "tolerance by criterion" in run("rules", "S2").stdout


@pytest.mark.parametrize(
    ("key", "says"),
    [
        ("optics.pixel_scale_arcsec_px", ("optics/figures.py:", "physics/optics.py:", "rule O2, ")),
        ("mount.inertia_kg_m2", ("mount/figures.py:",)),
        ("aim.target_span", ("aim/figures.py:",)),
        ("g4", ("steps/guiding/rules.py:",)),
    ],
)
def test_a_number_leads_home(key, says):
    text = run("where", key).stdout
    for word in says:
        assert word in text
    path, line = re.match(r"(\S+):(\d+)", text).groups()
    source = (Path(__file__).parents[1] / "src" / path).read_text().splitlines()[int(line) - 1]
    assert key.split(".")[-1] in source or source.lstrip().startswith(("@rule", "def "))


def test_every_figure_and_rule_is_found(rigs):
    keys = {figure.key for rig in rigs.values() for figure in STEPS.evaluate(rig).figures} | set(STEPS.rules)
    assert all(run("where", key).exit_code == 0 for key in keys)
    assert run("where", "optics.nothing").exit_code == 3


def test_answers_do_not_wait_for_nagle():
    # asyncio switches Nagle's algorithm off only where the socket names its protocol.
    listener = _listen(Settings(port=0))
    assert listener.proto == socket.IPPROTO_TCP
    listener.close()


@pytest.fixture
def demo_data(tmp_path):
    store = Store(tmp_path / "demo.sqlite")
    seed_demo(store)
    store.close()
    return tmp_path


def test_frames_of_a_folder_are_measured_and_held_against_their_rig(demo_data):
    rig = PictureRig(1400, 1000, 3.5, 4.3, 1.945, 3e6, 1.5, 0.002, 1.6, 17_000, 0.27)
    folder = demo_data / "frames"
    folder.mkdir()
    stars = random_stars(rig, 700, 1, brightest=7)
    command = ["measure", str(folder), "--rig", "heron", "--demo", "--data", str(demo_data)]
    empty = CliRunner().invoke(app, command)
    assert empty.exit_code == 3 and "no frame that can be measured" in empty.stderr
    write(take(rig, stars, Faults(fwhm_px=2.0), 120, 1), folder / "good.fits")
    good = CliRunner().invoke(app, command)
    assert good.exit_code == 0 and "No fault found" in good.stdout
    write(take(rig, stars, Faults(fwhm_px=2.0, guide_px=0.8), 120, 1), folder / "long.fits")
    (folder / "odd.fits").write_text("nothing")
    both = CliRunner().invoke(app, command)
    assert (
        both.exit_code == 1
        and "Stars elongated in one direction" in both.stdout
        and "odd.fits: this is no FITS" in both.stderr
    )
    lines = [json.loads(line) for line in CliRunner().invoke(app, [*command, "--json"]).stdout.splitlines()]
    assert [item["reading"]["name"] for item in lines] == ["good.fits", "long.fits"]
    unknown = CliRunner().invoke(app, [*command[:3], "none", *command[4:]])
    assert unknown.exit_code == 3 and "heron" in unknown.stderr
    nowhere = CliRunner().invoke(app, ["measure", str(folder / "nowhere"), *command[2:]])
    assert nowhere.exit_code == 3


def test_a_guide_log_is_held_against_its_mount(demo_data):
    log = demo_data / "log.csv"
    rng = np.random.default_rng(1)
    rows = "".join(f"{2 * k},{rng.normal(0, 2.5):.3f},{rng.normal(0, 2.5):.3f}\n" for k in range(600))
    log.write_text("time_s,ra_error_arcsec,dec_error_arcsec\n" + rows)
    command = ["guide-log", str(log), "--rig", "heron", "--demo", "--data", str(demo_data)]
    result = CliRunner().invoke(app, command)
    assert result.exit_code == 1 and "beyond it" in result.stdout and "no significant period" in result.stdout
    log.write_text("hello\n")
    assert CliRunner().invoke(app, command).exit_code == 3
    assert CliRunner().invoke(app, ["guide-log", str(demo_data / "no.csv"), *command[2:]]).exit_code == 3


def test_a_simulated_frame_is_taken_with_its_faults_and_measured(demo_data, tmp_path):
    file = tmp_path / "leans.fits"
    given = ["--rig", "bittern", "--demo", "--data", str(demo_data)]
    made = run(*["picture", str(file), "--fault", "tilt_um=420", "--fault", "focus_um=130", *given])
    assert made.exit_code == 0, made.output
    output = run(*["measure", str(file), *given])
    assert "Sensor tilt" in output.output
    for wrong, words in (
        (["--fault", "luck=3"], "there is no fault 'luck'"), (["--fault", "tilt_um=far"], "'far' is no number"),
        (["--fault", "dimmed=7"], "allowed 0 to 1"), (["--target", "Sol"], "the rig has no target 'Sol'"),
    ):  # fmt: skip
        refused = run(*["picture", str(tmp_path / "x.fits"), *wrong, *given])
        assert refused.exit_code == 3 and words in refused.output
    again = run(*["picture", str(file), *given])
    assert again.exit_code == 3 and "is there already" in again.output
