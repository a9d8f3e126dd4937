"""What there is to translate, as a gettext template: sentences of the core and terms of the pages. `make docs` writes it."""

import ast
import io
import json
from collections.abc import Iterator
from pathlib import Path

from babel.messages.catalog import Catalog
from babel.messages.pofile import write_po

from dravel.formats.language import WEB

HERE = Path(__file__).parents[1]
CORE = HERE / "src/dravel/core"
TERMS = HERE / "web/src/terms"
FIELDS = HERE / "web/src/api/generated/fields.json"
TELLING = {"steps", "overview", "design", "frames", "moves"}  # packages whose plain strings are sentences too
SAYS = {"text", "Text"}  # what makes a sentence of its first argument
NO_SENTENCES = {"formula", "source", "needs", "reads", "key", "form"}


def of_rules(tree: ast.AST) -> list[ast.Constant]:
    """What a file says: every string of several words or in title case that is no docstring, formula or source."""
    aside: set[int] = set()
    for node in ast.walk(tree):
        if isinstance(node, ast.Expr | ast.JoinedStr):
            aside |= {id(item) for item in ast.walk(node)}
        if isinstance(node, ast.keyword) and node.arg in NO_SENTENCES:
            aside |= {id(item) for item in ast.walk(node)}
        if isinstance(node, ast.Dict):  # what is looked up by is no sentence
            aside |= {id(key) for key in node.keys if isinstance(key, ast.Constant)}
        if isinstance(node, ast.Expr) and not isinstance(node.value, ast.Constant):
            aside -= {id(item) for item in ast.walk(node)}
    return [
        node
        for node in ast.walk(tree)
        if isinstance(node, ast.Constant)
        and isinstance(node.value, str)
        and (" " in node.value or node.value.istitle())
        and id(node) not in aside
    ]


def of_core(tree: ast.AST) -> Iterator[str]:
    """Templates of sentences: first arguments of what makes them, each choice of a conditional one."""
    for node in ast.walk(tree):
        if isinstance(node, ast.Call) and getattr(node.func, "id", "") in SAYS and node.args:
            for item in ast.walk(node.args[0]):
                if isinstance(item, ast.Constant) and isinstance(item.value, str):
                    yield item.value


def catalogue() -> Catalog:
    """Everything that can be said otherwise: `id` is the English template, `context` the place of a page's term."""
    made = Catalog(project="Dravel", copyright_holder="", header_comment="# Sentences of Dravel, to be translated.\n#")
    for path in sorted(CORE.rglob("*.py")):
        tree = ast.parse(path.read_text(encoding="utf-8"))
        ruled = of_rules(tree) if path.relative_to(CORE).parts[0] in TELLING else []
        for said in (*of_core(tree), *(str(item.value) for item in ruled)):
            if any(letter.isalpha() for letter in said):
                made.add(said, locations=[(str(path.relative_to(HERE)), 0)])
    for path in sorted(TERMS.glob("*.json")):
        for said in json.loads(path.read_text(encoding="utf-8")).values():
            made.add(said, context=f"{WEB}{path.stem}", locations=[(str(path.relative_to(HERE)), 0)])
    for title in {load["title"] for load in json.loads(FIELDS.read_text(encoding="utf-8")).values()}:
        made.add(title, context=f"{WEB}fields", locations=[(str(FIELDS.relative_to(HERE)), 0)])
    return made


def as_text(found: Catalog) -> str:
    """The catalogue as a file: sorted, without line numbers and the time of day, so that it changes with the words alone."""
    out = io.BytesIO()
    write_po(out, found, sort_output=True, include_lineno=False, width=120, omit_header=False)
    lines = out.getvalue().decode("utf-8").splitlines(keepends=True)
    return "".join(line for line in lines if not line.startswith(('"POT-Creation-Date', '"PO-Revision-Date')))
