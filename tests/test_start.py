"""Starting and stopping: first starts, two at once, a kill in between, a taken port, a file that is no database."""

import os
import re
import signal
import sqlite3
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

import pytest

from dravel.store import Store

DRAVEL = [sys.executable, "-m", "dravel.cli"]
PATIENCE_S = 600  # a busy machine is no fault


def start(data: Path, *words: str, **env: str) -> subprocess.Popen[str]:
    command = [*DRAVEL, *(words or ("demo",)), "--port", "0", "--data", str(data)]
    return subprocess.Popen(
        command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True, env={**os.environ, **env}
    )


def address_of(server: subprocess.Popen[str]) -> str:
    assert server.stdout is not None
    for line in server.stdout:
        if match := re.search(r"http://[^\s/]+", line):
            break
    else:
        raise AssertionError(server.stderr and server.stderr.read())
    for _ in range(20 * PATIENCE_S):
        try:
            urllib.request.urlopen(match[0] + "/api/v1/about").close()
            return match[0]
        except OSError:
            time.sleep(0.05)
    raise AssertionError("it does not answer")


def stop(server: subprocess.Popen[str], how: int = signal.SIGTERM) -> int:
    server.send_signal(how)
    server.communicate(timeout=PATIENCE_S)
    return server.returncode


def add_a_rig(address: str, name: str) -> None:
    body = f'{{"rig": {{"name": "{name}"}}}}'.encode()
    headers = {"content-type": "application/json"}
    urllib.request.urlopen(urllib.request.Request(f"{address}/api/v1/rigs", body, headers)).close()


@pytest.mark.parametrize("how", [signal.SIGTERM, signal.SIGHUP, signal.SIGINT])
def test_however_it_is_ended_the_one_file_holds_everything(tmp_path, how):
    server = start(tmp_path, "serve")
    add_a_rig(address_of(server), "last words")
    assert stop(server, how) in (0, -how)
    assert {path.name for path in tmp_path.iterdir()} == {"dravel.sqlite", "dravel.sqlite.lock"}
    alone = tmp_path / "elsewhere.sqlite"
    alone.write_bytes((tmp_path / "dravel.sqlite").read_bytes())
    assert [record.rig.name for record in Store(alone).rigs.all()] == ["last words"]


def test_at_a_quiet_moment_the_one_file_holds_everything(tmp_path):
    server = start(tmp_path, "serve")
    add_a_rig(address_of(server), "a while ago")
    path = tmp_path / "dravel.sqlite"
    for _ in range(6000):
        alone = tmp_path / "copy.sqlite"
        alone.write_bytes(path.read_bytes())
        with sqlite3.connect(alone) as link:
            kept = [row[0] for row in link.execute("SELECT id FROM rigs")]
        if kept:
            break
        time.sleep(0.2)
    stop(server)
    assert kept == ["a-while-ago"]


def test_two_first_starts_at_once_fill_it_once(tmp_path):
    servers = [start(tmp_path) for _ in range(2)]
    try:
        for server in servers:
            address_of(server)
        store = Store(tmp_path / "demo.sqlite")
        assert len(store.rigs.all()) == 4
        assert len({part.body.name for part in store.parts.all()}) == len(store.parts.all())
        store.close()
    finally:
        for server in servers:
            stop(server)


@pytest.mark.parametrize("after", [0.05, 0.3])
def test_a_first_start_that_is_killed_leaves_nothing_half_done(tmp_path, after):
    server = start(tmp_path)
    path = tmp_path / "demo.sqlite"
    until = time.monotonic() + PATIENCE_S
    while not path.exists() and time.monotonic() < until:
        time.sleep(0.005)
    time.sleep(after)
    server.kill()
    server.communicate()
    again = start(tmp_path)
    address_of(again)
    stop(again)
    store = Store(path)
    assert (len(store.rigs.all()), len(store.targets.all()), len(store.sites.all())) == (4, 8, 2)


def test_starting_over_is_refused_while_it_runs_and_keeps_the_old_data(tmp_path):
    server = start(tmp_path)
    address = address_of(server)
    add_a_rig(address, "acknowledged")
    refused = start(tmp_path, "demo", "--fresh")
    answer = refused.communicate(timeout=PATIENCE_S)[1]
    assert refused.returncode == 3 and "another Dravel has" in answer and "Traceback" not in answer
    add_a_rig(address, "acknowledged too")
    stop(server)
    fresh = start(tmp_path, "demo", "--fresh")
    address_of(fresh)
    stop(fresh)
    (aside,) = (path for path in tmp_path.glob("demo.*.sqlite"))
    assert re.fullmatch(r"demo\.\d{4}-\d\d-\d\d-\d{6}\.sqlite", aside.name)
    assert {"acknowledged", "acknowledged too"} <= {record.rig.name for record in Store(aside).rigs.all()}
    assert len(Store(tmp_path / "demo.sqlite").rigs.all()) == 4


def test_a_taken_port_leaves_the_old_data_where_they_are(tmp_path):
    server = start(tmp_path)
    port = address_of(server).rpartition(":")[2]
    other = tmp_path / "other"
    Store(other / "demo.sqlite").close()
    command = [*DRAVEL, "demo", "--fresh", "--port", port, "--data", str(other)]
    refused = subprocess.run(command, capture_output=True, text=True, check=False)
    stop(server)
    assert refused.returncode == 3 and "cannot be used" in refused.stderr
    assert [path.name for path in other.glob("*.sqlite")] == ["demo.sqlite"]


@pytest.mark.parametrize(
    ("env", "words"),
    [
        ({"DRAVEL_HOST": ""}, "DRAVEL_HOST: '' is no address"),
        ({"DRAVEL_HOST": "bench.lan"}, "DRAVEL_HOST: 'bench.lan' is no address"),
        ({"DRAVEL_HOST": "0.0.0.0"}, "Set one first: dravel passcode"),
        ({"DRAVEL_PORT": "many"}, "DRAVEL_PORT: Input should be a valid integer"),
        ({"DRAVEL_PORT": "70000"}, "DRAVEL_PORT: Input should be less than or equal to 65535"),
        ({"DRAVEL_HOST_NAMES": "not json"}, "host_names"),
        ({"DRAVEL_TONIGHT": "yesterday"}, "DRAVEL_TONIGHT: "),
    ],
)
def test_a_setting_that_makes_no_sense_is_told_by_name(tmp_path, env, words):
    command = [*DRAVEL, "serve", "--data", str(tmp_path)]
    output = subprocess.run(command, capture_output=True, text=True, env={**os.environ, **env}, check=False)
    assert output.returncode == 3 and words in output.stderr and "Traceback" not in output.stderr


def unreadable(path: Path) -> None:
    path.write_bytes(b"this is no database, though it has bytes enough for one" * 100)


def a_folder(path: Path) -> None:
    path.mkdir()


def of_a_newer_layout(path: Path) -> None:
    Store(path).close()
    with sqlite3.connect(path) as link:
        link.execute("UPDATE alembic_version SET version_num = '9999'")


@pytest.mark.parametrize("spoil", [unreadable, a_folder, of_a_newer_layout])
def test_a_file_that_cannot_be_opened_is_a_sentence(tmp_path, spoil):
    spoil(tmp_path / "dravel.sqlite")
    server = start(tmp_path, "serve")
    answer = server.communicate(timeout=PATIENCE_S)[1]
    assert server.returncode == 3 and answer.startswith("Cannot open the database: ") and "Traceback" not in answer


def test_data_in_a_place_that_cannot_be_is_a_sentence(tmp_path):
    (tmp_path / "file").write_text("")
    server = start(tmp_path / "file" / "under", "serve")
    answer = server.communicate(timeout=PATIENCE_S)[1]
    assert server.returncode == 3 and "Cannot open the database: " in answer and "Traceback" not in answer


def test_a_copy_is_made_while_it_runs(tmp_path):
    server = start(tmp_path, "serve")
    add_a_rig(address_of(server), "in the copy")
    to = tmp_path / "safe.sqlite"
    for expected in (0, 3):  # the second time there is a file of that name
        command = [*DRAVEL, "copy", str(to), "--data", str(tmp_path)]
        output = subprocess.run(command, capture_output=True, text=True, check=False)
        assert output.returncode == expected, output.stderr
    assert "nothing is written over" in output.stderr
    stop(server)
    assert [record.rig.name for record in Store(to).rigs.all()] == ["in the copy"]


def test_damage_is_said_at_the_start_and_does_not_hinder_it(tmp_path):
    first = start(tmp_path)
    address_of(first)
    stop(first)
    with sqlite3.connect(tmp_path / "demo.sqlite") as link:
        link.execute("UPDATE revisions SET body = substr(body, 1, 99) WHERE rig_id = 'heron'")
    server = start(tmp_path)
    address = address_of(server)
    board = urllib.request.urlopen(f"{address}/api/v1/board").read().decode()
    raw = urllib.request.urlopen(f"{address}/api/v1/damaged/rig/heron").read().decode()
    server.send_signal(signal.SIGTERM)
    answer = server.communicate(timeout=PATIENCE_S)[1]
    assert "Damaged: rig heron" in answer
    assert '"Wren"' in board and '"Heron"' not in board and raw.startswith('{"name":"Heron"')


def test_a_passcode_lets_it_listen_to_others(tmp_path):
    command = [*DRAVEL, "passcode", "--data", str(tmp_path)]
    weak = subprocess.run(command, input="owl\n", capture_output=True, text=True, check=False)
    assert weak.returncode == 3 and "8 to 200" in weak.stderr
    assert (
        subprocess.run(command, input="seven owls fly\n", capture_output=True, text=True, check=False).returncode == 0
    )
    server = start(tmp_path, "demo", "--host", "0.0.0.0")
    assert address_of(server).startswith("http://0.0.0.0:")
    stop(server)
    subprocess.run([*command, "--remove"], check=True, capture_output=True)
    refused = subprocess.run(
        [*DRAVEL, "demo", "--host", "0.0.0.0", "--data", str(tmp_path)], capture_output=True, text=True, check=False
    )
    assert refused.returncode == 3 and "no passcode yet" in refused.stderr
