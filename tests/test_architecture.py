"""Arrows point inward: the core knows nothing outside itself, and each ring only what lies within."""

import ast
from pathlib import Path

import pytest

SOURCE = Path(__file__).parents[1] / "src" / "dravel"
WEB = Path(__file__).parents[1] / "web" / "src"
MAY_KNOW = {
    "core": {"core"},
    "catalogue": {"core", "catalogue"},
    "formats": {"core", "formats"},
    "store": {"core", "store"},
    "api": {"core", "catalogue", "formats", "store", "api", "config"},
}
CORE_MAY_IMPORT = {"erfa", "numpy", "pydantic", "pydantic_core", "dravel"}


def imports(path: Path) -> set[str]:
    found = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            found |= {f"{node.module}.{alias.name}" for alias in node.names}
    return found


@pytest.mark.parametrize("ring", MAY_KNOW)
def test_arrows_point_inward(ring):
    for path in (SOURCE / ring).rglob("*.py"):
        for name in imports(path):
            if name.startswith("dravel."):
                known = name.split(".")[1]
                assert known in MAY_KNOW[ring] or known.startswith("__"), f"{path.name} imports {name}"


def test_the_core_imports_only_computation():
    import sys

    for path in (SOURCE / "core").rglob("*.py"):
        for name in imports(path):
            root = name.split(".")[0]
            assert root in CORE_MAY_IMPORT or root in sys.stdlib_module_names, f"{path.name} imports {name}"
            assert root not in {"os", "pathlib", "sqlite3", "socket", "urllib", "time"}, f"{path.name} imports {name}"


def test_no_rule_of_the_job_is_written_in_typescript():
    for path in WEB.rglob("*.ts*"):
        text = path.read_text()
        for constant in ("206.26", "206265", "15.04", "1.22 *", "115.8", "2.355"):
            assert constant not in text, f"{path.name} computes with {constant}"


def test_public_functions_of_the_core_say_what_they_do():
    for path in (SOURCE / "core").rglob("*.py"):
        for node in ast.parse(path.read_text()).body:
            if isinstance(node, ast.FunctionDef | ast.ClassDef) and not node.name.startswith("_"):
                assert ast.get_docstring(node), f"{path.name}: {node.name} has no docstring"
