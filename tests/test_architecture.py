"""Arrows point inward: the core knows nothing outside itself, and each layer only what lies within."""

import ast
import sys
from graphlib import CycleError, TopologicalSorter
from pathlib import Path

import pytest

SOURCE = Path(__file__).parents[1] / "src" / "dravel"
WEB = Path(__file__).parents[1] / "web" / "src"
MAY_KNOW = {
    "core": {"core"},
    "catalogue": {"core", "catalogue"},
    "formats": {"core", "formats"},
    "store": {"core", "store"},
    "work": {"core", "catalogue", "formats", "store", "work"},
    "stand_ins": {"core", "stand_ins"},
    "api": {"core", "catalogue", "formats", "store", "work", "stand_ins", "api", "config"},
}
CORE_MAY_IMPORT = {"erfa", "sep", "numpy", "pydantic", "pydantic_core", "dravel"}
# The layers of the core, innermost first: a module imports from its own layer and from those before it.
LAYERS = ("model", "physics", "frames", "sky", "train", "engine", "moves", "steps", "overview", "log", "design")
# What one subject may need of lines; the exact solver is one subject, generated files are nobody's prose.
MOST_LINES = 400
LARGER = {"train/solver.py"}


def module(path: Path) -> str:
    """The dotted name of a file of the package."""
    parts = path.relative_to(SOURCE.parent).with_suffix("").parts
    return ".".join(parts[:-1] if parts[-1] == "__init__" else parts)


def imports(path: Path) -> set[str]:
    """Every name a file imports, those for type checkers alone left out: they load nothing."""
    result = set()
    tree = ast.parse(path.read_text())
    unread = {
        id(inner)
        for node in ast.walk(tree)
        if isinstance(node, ast.If) and isinstance(node.test, ast.Name) and node.test.id == "TYPE_CHECKING"
        for inner in ast.walk(node)
    }
    for node in ast.walk(tree):
        if id(node) in unread:
            continue
        if isinstance(node, ast.Import):
            result |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            result |= {f"{node.module}.{alias.name}" for alias in node.names}
    return result


def layer(name: str) -> str | None:
    """The layer of the core that a dotted name lies in."""
    parts = name.split(".")
    return parts[2] if parts[:2] == ["dravel", "core"] and len(parts) > 2 else None


CORE = sorted((SOURCE / "core").rglob("*.py"))


@pytest.mark.parametrize("ring", MAY_KNOW)
def test_arrows_point_inward(ring):
    for path in (SOURCE / ring).rglob("*.py"):
        for name in imports(path):
            if name.startswith("dravel."):
                known = name.split(".")[1]
                assert known in MAY_KNOW[ring] or str(known).startswith("__"), f"{path.name} imports {name}"


def test_no_import_runs_up_between_the_layers_of_the_core():
    for path in CORE:
        own = layer(module(path))
        if own is None:
            continue
        assert own in LAYERS, f"{path} lies in no layer"
        for name in imports(path):
            other = layer(name)
            if other is not None:
                assert LAYERS.index(other) <= LAYERS.index(own), f"{module(path)} imports {name}, a layer above it"


def test_the_engine_knows_no_step_and_steps_know_no_other_step():
    for path in CORE:
        parts = module(path).split(".")
        for name in imports(path):
            other = name.split(".")
            if other[:3] != ["dravel", "core", "steps"] or len(other) < 4:
                continue
            assert "engine" not in parts, f"{module(path)} imports {name}"
            if parts[:3] == ["dravel", "core", "steps"] and len(parts) > 3:
                assert parts[3] == other[3], f"{module(path)} imports {name}, another step"


def test_no_import_runs_in_a_circle():
    names = {module(path): path for path in SOURCE.rglob("*.py")}
    graph = {}
    for name, path in names.items():
        wanted = set()
        for result in imports(path):
            target = result if result in names else result.rpartition(".")[0]
            # A package's own list imports its members; what a member takes from it is no circle between files.
            if target in names and target != name and not (name == target or target == name.rpartition(".")[0]):
                wanted.add(target)
        graph[name] = wanted
    try:
        tuple(TopologicalSorter(graph).static_order())
    except CycleError as error:
        raise AssertionError(" → ".join(error.args[1])) from None


def test_the_core_imports_only_computation():
    for path in CORE:
        for name in imports(path):
            root = name.split(".")[0]
            assert root in CORE_MAY_IMPORT or root in sys.stdlib_module_names, f"{path.name} imports {name}"
            assert root not in {"os", "pathlib", "sqlite3", "socket", "urllib", "time"}, f"{path.name} imports {name}"


def test_no_file_holds_more_than_one_subject_needs():
    files = [*SOURCE.rglob("*.py"), *WEB.rglob("*.ts"), *WEB.rglob("*.tsx")]
    for path in files:
        if "generated" in path.parts or any(str(path).endswith(name) for name in LARGER):
            continue
        code = [line for line in path.read_text().splitlines() if line.strip()]
        assert len(code) <= MOST_LINES, f"{path.relative_to(SOURCE.parents[1])}: {len(code)} lines of code"


def test_no_rule_of_the_job_is_written_in_typescript():
    for path in WEB.rglob("*.ts*"):
        text = path.read_text()
        for constant in ("206.26", "206265", "15.04", "1.22 *", "115.8", "2.355"):
            assert constant not in text, f"{path.name} computes with {constant}"


def test_no_place_of_the_web_imports_another_step():
    for path in (WEB / "steps").rglob("*.ts*"):
        own = path.relative_to(WEB / "steps").parts
        if len(own) < 2:
            continue
        others = {folder.name for folder in (WEB / "steps").iterdir() if folder.is_dir()} - {own[0]}
        for other in others:
            assert f'from "../{other}/' not in path.read_text(), f"{path.name} imports the step {other}"


def test_no_place_of_the_web_imports_another_ones_page():
    """What places share lies in `drawing`, `api` or beside the rig; a page is nobody's library."""
    pages = {
        path.stem: path.parent.name for path in WEB.rglob("*.tsx") if path.stem.lower() == path.parent.name.lower()
    }
    for path in WEB.rglob("*.ts*"):
        for name, place in pages.items():
            if path.parent.name != place and path.name != "main.tsx":
                assert f'/{place}/{name}"' not in path.read_text(), f"{path.name} imports the page {name}"


def test_public_functions_of_the_core_say_what_they_do():
    for path in CORE:
        for node in ast.parse(path.read_text()).body:
            if isinstance(node, ast.FunctionDef | ast.ClassDef) and not node.name.startswith("_"):
                assert ast.get_docstring(node), f"{path.name}: {node.name} has no docstring"
