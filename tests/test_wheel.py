"""The wheel carries the built pages: installed in an empty environment, the demo runs without Node."""

import json
import re
import subprocess
import sys
import time
import urllib.request
import venv
from pathlib import Path

TOP = Path(__file__).parents[1]


def test_the_wheel_runs_without_node(tmp_path):
    build = [sys.executable, "-m", "build", "--no-isolation", "--wheel", "--outdir", str(tmp_path), str(TOP)]
    subprocess.run(build, check=True, capture_output=True)
    (wheel,) = tmp_path.glob("*.whl")
    home = tmp_path / "empty"
    venv.create(home, with_pip=False)
    pip = [sys.executable, "-m", "pip", "--python", home / "bin/python"]
    install = [
        *pip,
        "install",
        "-q",
        "--disable-pip-version-check",
        "--no-compile",
        "-c",
        TOP / "requirements.lock",
        wheel,
    ]
    subprocess.run(install, check=True, capture_output=True)
    command = [home / "bin/dravel", "demo", "--port", "0", "--data", str(tmp_path / "data")]
    server = subprocess.Popen(command, stdout=subprocess.PIPE, text=True, cwd=tmp_path, env={"PATH": str(home / "bin")})
    try:
        assert server.stdout is not None
        match = re.search(r"http://\S+", server.stdout.readline())
        assert match
        address = match[0]
        for _ in range(6000):  # a busy machine is no fault
            try:
                page = urllib.request.urlopen(address).read().decode()
                break
            except OSError:
                time.sleep(0.1)
        script = re.search(r'src="/(assets/[^"]+\.js)"', page)
        assert script
        assert len(urllib.request.urlopen(address + script[1]).read()) > 10_000
        board = json.load(urllib.request.urlopen(f"{address}api/v1/board"))
        assert len(board["rows"]) == 4
    finally:
        server.terminate()
        server.wait()
