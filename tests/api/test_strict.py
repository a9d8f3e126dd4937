"""What the schema forbids is refused: no number for a switch, no text for a number, no seconds for a day."""

import types
from collections.abc import Iterator
from datetime import date
from typing import Annotated, Any, Union, get_args, get_origin

import pytest
from pydantic import BaseModel, TypeAdapter, ValidationError

from dravel.api.app import create_app
from dravel.config import Settings
from dravel.store import Store

NOT_ONE = {
    bool: (0, 1, 1.0, "yes", "true"),
    date: (0, 1.5, True, "0", "2026-11-25T00:00:00"),
    int: (True, "3", 1.5),
    float: (True, "3"),
    str: (1, True),
}


def descendants(model: type) -> Iterator[type[BaseModel]]:
    for subclass in model.__subclasses__():
        yield subclass
        yield from descendants(subclass)


def kinds(annotation: Any) -> set[type]:
    origin = get_origin(annotation)
    if origin is Annotated:
        return kinds(get_args(annotation)[0])
    if origin in (Union, types.UnionType):
        return set().union(*(kinds(kind) for kind in get_args(annotation)))
    return {annotation} if isinstance(annotation, type) else set()


def refs(schema: Any) -> Iterator[str]:
    for key, value in schema.items() if isinstance(schema, dict) else enumerate(schema):
        if key == "$ref":
            yield value.rsplit("/", 1)[1]
        elif isinstance(value, dict | list):
            yield from refs(value)


@pytest.fixture(scope="module")
def taken(tmp_path_factory) -> dict[str, type[BaseModel]]:
    """Every model that comes in by a request, by name."""
    store = Store(tmp_path_factory.mktemp("strict") / "strict.sqlite")
    document = create_app(store, Settings()).openapi()
    store.close()
    known = document["components"]["schemas"]
    todo = {
        name
        for path in document["paths"].values()
        for call in path.values()
        for name in refs(call.get("requestBody", {}))
    }
    results: set[str] = set()
    while todo:
        name = todo.pop()
        results.add(name)
        todo |= set(refs(known[name])) - results
    return {model.__name__: model for model in descendants(BaseModel) if model.__name__ in results}


def test_what_is_no_switch_day_or_number_is_refused(taken):
    assert {"Rig", "Camera", "Mount", "RigSave", "FootprintAsked", "Measurement"} <= set(taken)
    accepted = []
    for name, model in taken.items():
        for field, about in model.model_fields.items():
            wanted = kinds(about.annotation)
            adapter: TypeAdapter[Any] = TypeAdapter(
                Annotated[(about.annotation, *about.metadata)] if about.metadata else about.annotation
            )
            for wrong in {
                value for item in wanted & set(NOT_ONE) for value in NOT_ONE[item] if type(value) not in wanted
            }:
                try:
                    adapter.validate_python(wrong)
                    accepted.append(f"{name}.{field} takes {wrong!r}")
                except ValidationError:
                    pass
    assert accepted == []


def test_the_schema_demands_the_kind_where_the_server_does(taken):
    parts = taken["PathItem"].model_json_schema()["properties"]["part"]
    assert parts["required"] == ["kind"]
    with pytest.raises(ValidationError, match="kind"):
        taken["PathItem"].model_validate({"part": {"name": "of no kind"}})
    readings = taken["Camera"].model_json_schema()["properties"]["measured"]["propertyNames"]["enum"]
    assert "mass_g" in readings and "name" not in readings
