"""Generated documents are the ones that would be generated now."""

import json
import subprocess
from pathlib import Path

import pytest

from tools.documents import documents

TOP = Path(__file__).parents[1]
MADE = documents()


@pytest.mark.parametrize("path", sorted(MADE), ids=lambda path: path.name)
def test_the_document_is_current(path):
    assert path.read_text(encoding="utf-8") == MADE[path], "run `make docs`"


def test_the_web_client_is_generated_from_the_openapi_document(tmp_path):
    made = tmp_path / "schema.d.ts"
    subprocess.run(
        ["npx", "--no-install", "openapi-typescript", str(TOP / "docs/openapi.json"), "-o", str(made)],
        cwd=TOP / "web", check=True, capture_output=True,
    )  # fmt: skip
    assert made.read_text() == (TOP / "web/src/api/generated/schema.d.ts").read_text(), "run `make docs`"


def test_the_readme_is_true():
    readme = (TOP / "README.md").read_text()
    assert "make demo" in readme and "make test" in readme
    for picture in (TOP / "docs/screenshots").glob("*.png"):
        assert f"docs/screenshots/{picture.name}" in readme
    for line in readme.splitlines():
        for piece in line.split("](")[1:]:
            link = piece.split(")")[0].split("#")[0]
            if link and not link.startswith("http"):
                assert (TOP / link).exists(), link


def test_locked_dependencies_name_no_addresses():
    lock = json.loads((TOP / "web/package-lock.json").read_text())
    assert not any("resolved" in entry for entry in lock["packages"].values())
    for name in ("requirements.lock", "requirements-dev.lock"):
        assert "://" not in (TOP / name).read_text()


def test_the_web_lock_holds_every_platform():
    # A lock made where some platform packages cannot be had lacks them, and `npm ci` then refuses it elsewhere.
    packages = json.loads((TOP / "web/package-lock.json").read_text())["packages"]
    for place, entry in packages.items():
        for name in entry.get("optionalDependencies", {}):
            assert f"node_modules/{name}" in packages or f"{place}/node_modules/{name}" in packages, name


def test_the_example_of_a_new_picture_is_the_one_that_compiles():
    example = (TOP / "web/src/kit/Example.tsx").read_text().strip()
    assert f"```tsx\n{example}\n```" in (TOP / "docs/pictures.md").read_text()
