"""What a fresh machine meets: what it lacks is named in one line; settings come from the environment."""

import os
import re
import subprocess
from pathlib import Path

import pytest

from dravel.config import Settings
from tests.long import LONG, is_long

TOP = Path(__file__).parents[1]


def script(name: str, *args: str, path: str = "/nowhere", **env: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        ["/bin/sh", str(TOP / "tools" / name), *args], capture_output=True, text=True, env={"PATH": path, **env}
    )


def fake(folder: Path, name: str, body: str) -> None:
    file = folder / name
    file.write_text(f"#!/bin/sh\n{body}\n")
    file.chmod(0o755)


def test_everything_missing_is_named_in_one_line():
    answer = script("needs.sh", "python3")
    assert answer.returncode == 1
    assert answer.stderr.strip().count("\n") == 0
    assert "Python 3.11 or newer; Node 20 or newer; npm." in answer.stderr


@pytest.mark.parametrize(
    ("python", "node", "lacks"),
    [
        ("exit 0", "exit 0", None),
        ("exit 1", "exit 0", "Python 3.11 or newer"),
        ('case "$2" in *venv*) exit 1;; esac', "exit 0", "venv module"),
        ("exit 0", "exit 1", "Node 20 or newer"),
    ],
)
def test_each_need(tmp_path, python, node, lacks):
    fake(tmp_path, "python3", python)
    fake(tmp_path, "node", node)
    fake(tmp_path, "npm", "exit 0")
    answer = script("needs.sh", "python3", path=str(tmp_path))
    assert answer.returncode == (1 if lacks else 0)
    assert (lacks or "") in answer.stderr


def test_a_browser_that_cannot_be_installed_is_told(tmp_path):
    answer = script("chromium.sh", DRAVEL_CHROMIUM=str(tmp_path / "none"))
    assert answer.returncode == 1
    assert "Chromium is missing" in answer.stderr and "DRAVEL_CHROMIUM" in answer.stderr
    fake(tmp_path, "apt-get", "exit 0")
    fake(tmp_path, "id", "echo 1000")
    answer = script("chromium.sh", path=str(tmp_path), DRAVEL_CHROMIUM=str(tmp_path / "none"))
    assert answer.returncode == 1 and "may not install packages" in answer.stderr


def test_a_browser_that_is_there_is_taken(tmp_path):
    fake(tmp_path, "browser", "exit 0")
    assert script("chromium.sh", DRAVEL_CHROMIUM=str(tmp_path / "browser")).returncode == 0


def test_settings_come_from_the_environment(monkeypatch, tmp_path):
    monkeypatch.setenv("DRAVEL_DATA", str(tmp_path))
    monkeypatch.setenv("DRAVEL_PORT", "9999")
    monkeypatch.setenv("DRAVEL_HOST_NAMES", '["bench.lan"]')
    settings = Settings()
    assert settings.database() == tmp_path / "dravel.sqlite"
    assert settings.database(demo=True) == tmp_path / "demo.sqlite"
    assert (settings.port, settings.host_names, settings.host) == (9999, ("bench.lan",), "127.0.0.1")


def test_continuous_integration_runs_the_readmes_command():
    run = TOP / ".ci" / "run"
    assert os.access(run, os.X_OK)
    assert "make test" in run.read_text() and "make test" in (TOP / "README.md").read_text()


def test_the_licences_are_named():
    notice = (TOP / "NOTICE").read_text()
    for words in ("Attribution-ShareAlike 4.0", "Attribution-ShareAlike 3.0 IGO", "SIL Open Font License"):
        assert words in notice
    assert "MIT License" in (TOP / "LICENSE").read_text()


def test_each_long_proof_is_a_test_that_there_is():
    files = list((TOP / "tests").rglob("test_*.py"))
    tests = "".join(f"{path.name}{path.read_text(encoding='utf-8')}" for path in files)
    for pattern in LONG:
        name = re.match(r"test_[a-z_]+", pattern.pattern)
        assert name and name[0] in tests, pattern.pattern
    assert is_long("tests/test_wheel.py::test_the_wheel_runs_without_node") and not is_long(
        "tests/test_setup.py::test_x"
    )
