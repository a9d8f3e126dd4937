"""Calls made of what is allowed, then bent: texts that are no text, numbers beyond all bounds, deep and huge documents, parts of them
gone. None may end in a fault of the server, and every answer carries its headers.
"""

import json
import logging
import random
from collections.abc import Iterator
from datetime import date
from pathlib import Path
from typing import Any
from urllib.parse import quote

from fastapi.testclient import TestClient

from dravel.api.app import create_app
from dravel.config import Settings
from dravel.seed import seed_demo
from dravel.store import Store

V1 = "/api/v1"
TEXTS = (
    "", " ", "\ud800", "a\udfffb", "\x00", "\u202e", "\ufeff", "x" * 5_000, "é" * 200, "𝕏" * 90, "=1+1", "../..", "a/b", "a\nb",
    "1e400", "NaN", "\u0085", "'; DROP TABLE rigs; --", "<script>", "2026-02-30", "2026-11-25", "9999-12-31", "0001-01-01",
    "2026-11-25T20:00:00Z", "9999-12-31T23:59:59Z", "0001-01-01T00:00:00+14:00", "2026-11-25T20:00:00+99:99",
)  # fmt: skip
NUMBERS = (
    0, -0.0, 1, -1, 2**31, 2**53 + 1, 2**63, 2**64, 10**30, 10**400, -(10**30), 1e-320, 1e308, -1e308, 0.1, 89.99999, 360, 1e15,
    float("inf"), float("-inf"), float("nan"),
)  # fmt: skip
OTHERS: tuple[Any, ...] = (None, True, [], {}, [[]], [None], {"": 0}, [[[[[[]]]]]], {"a": {"a": {"a": {}}}})
SLOW = ("/tonight", "/design", "/keep", "/sky/ranking", "/sky/objects", "/sky/years", "/jobs", "/demo")
SLOW_SHARE = 0.12
KEYS = {"rig_id": "heron", "entry_id": "drawer-21", "session_id": "none", "code": "S1", "part_id": "drawer-21"}


class Maker:
    """Makes bodies by their schema, out of what the demo holds."""

    def __init__(self, document: dict[str, Any], client: TestClient, dice: random.Random) -> None:
        self._schemas, self._dice = document["components"]["schemas"], dice
        rig = client.get(f"{V1}/rigs/heron").json()["rig"]
        self._own: dict[str, list[Any]] = {
            "Rig": [rig, client.get(f"{V1}/rigs/wren").json()["rig"]],
            "Target": [item["body"] for item in client.get(f"{V1}/targets").json()],
            "Site": [item["body"] for item in client.get(f"{V1}/sites").json()],
            "Preferences": [client.get(f"{V1}/preferences").json()["body"]],
            "Framing": rig["framings"],
            "PathItem": rig["path"],
        }
        self._parts = [item["body"] for item in client.get(f"{V1}/parts").json()]

    def of(self, schema: dict[str, Any], depth: int = 0) -> Any:
        """Something that the schema allows, more or less."""
        name = schema.get("$ref", "").rpartition("/")[2]
        if name in self._own:
            return self._dice.choice(self._own[name])
        if name:
            return self.of(self._schemas[name], depth)
        if "discriminator" in schema:
            return self._dice.choice(self._parts)
        for several in ("anyOf", "oneOf", "allOf"):
            if several in schema:
                return self.of(self._dice.choice(schema[several]), depth)
        if "enum" in schema:
            return self._dice.choice(schema["enum"])
        if "const" in schema:
            return schema["const"]
        return self._plain(schema, depth)

    def _plain(self, schema: dict[str, Any], depth: int) -> Any:
        match schema.get("type"):
            case "object":
                needed = schema.get("required", ())
                return {
                    key: self.of(held, depth + 1)
                    for key, held in schema.get("properties", {}).items()
                    if key in needed or (depth < 5 and self._dice.random() < 0.6)
                }
            case "array":
                return [self.of(schema.get("items", {}), depth + 1) for _ in range(self._dice.randint(0, 3))]
            case "integer" | "number":
                low = schema.get("minimum", schema.get("exclusiveMinimum", 0))
                return (
                    low
                    if self._dice.random() < 0.3
                    else min(schema.get("maximum", 1e6), low + self._dice.randint(0, 90))
                )
            case "boolean":
                return self._dice.random() < 0.5
            case "null":
                return None
        if schema.get("format") == "date-time":
            return "2026-11-25T20:00:00Z"
        return {"date": "2026-11-25"}.get(
            schema.get("format", ""), self._dice.choice(("heron", "drawer-21", "NGC 281", "one"))
        )

    def bent(self, node: Any, share: float = 0.05) -> Any:
        """The same with some of it odd, gone, doubled or something else."""
        dice = self._dice
        if dice.random() < share:
            return dice.choice((dice.choice(TEXTS), dice.choice(NUMBERS), dice.choice(OTHERS)))
        if isinstance(node, dict):
            held = {key: self.bent(item, share) for key, item in node.items() if dice.random() > share / 3}
            return {**held, dice.choice(TEXTS): dice.choice(NUMBERS)} if dice.random() < share else held
        if isinstance(node, list):
            held_list = [self.bent(item, share) for item in node]
            return held_list * dice.randint(2, 40) if held_list and dice.random() < share / 3 else held_list
        return node


def raw(body: Any, dice: random.Random) -> bytes:
    """A document as it may arrive: now and then cut short, not UTF-8, or nested without end."""
    text = json.dumps(body, ensure_ascii=dice.random() < 0.5).encode("utf-8", "surrogatepass")
    odd = dice.random()
    if odd < 0.01:
        return text[: dice.randrange(len(text) + 1)]
    if odd < 0.02:
        return b"[" * 100_000
    if odd < 0.03:
        return text.replace(b"0", b"9" * 5_000, 1)
    return text


def odd_calls(count: int, folder: Path, seed: int = 1) -> tuple[int, list[str]]:
    """Calls made, and those that ended in a fault of the server or without its headers."""
    logging.disable(logging.CRITICAL)  # what is refused is no news here
    dice = random.Random(seed)
    store = Store(folder / "odd.sqlite")
    seed_demo(store)
    app = create_app(store, Settings(tonight=date(2026, 11, 25), data=folder))
    faults: list[str] = []
    with TestClient(app, base_url="http://localhost", raise_server_exceptions=False) as client:
        document = client.get(f"{V1}/openapi.json").json()
        maker = Maker(document, client, dice)
        operations = [(path, method, item) for path, held in document["paths"].items() for method, item in held.items()]
        made = 0
        while made < count:
            path, method, operation = dice.choice(operations)
            if any(item in path for item in SLOW) and dice.random() > SLOW_SHARE:
                continue
            where, query, body, headers = _asked(path, operation, maker, dice)
            if "/events" in path and method == "get":
                continue  # it goes on for ever, as it should
            answer = client.request(method.upper(), where, params=query, content=body, headers=headers)
            made += 1
            if answer.status_code >= 500 or "content-security-policy" not in answer.headers:
                faults.append(f"{method} {where} {query} {answer.status_code} {answer.text[:200]} {body[:3000]!r}")
    store.close()
    logging.disable(logging.NOTSET)
    return made, faults


def _asked(
    path: str, operation: dict[str, Any], maker: Maker, dice: random.Random
) -> tuple[str, dict[str, Any], bytes, dict[str, str]]:
    query: dict[str, Any] = {}
    headers = {"content-type": "application/json"}
    for item in operation.get("parameters", ()):
        value = maker.of(item["schema"])
        if dice.random() < 0.25:
            value = dice.choice((*TEXTS, *NUMBERS))
        text = str(value).encode("utf-8", "replace").decode()
        if item["in"] == "path":
            usual = KEYS.get(item["name"], "one")
            path = path.replace(f"{{{item['name']}}}", quote(text if dice.random() < 0.3 else usual, safe="") or "-")
        elif item["in"] == "query" and dice.random() < 0.6:
            query[item["name"]] = text
        elif item["in"] == "header" and dice.random() < 0.4:
            headers[item["name"]] = "".join(sign for sign in text if " " <= sign < "\x7f")
    content = (operation.get("requestBody") or {}).get("content", {})
    body = b""
    if content:
        form, held = next(iter(content.items()))
        headers["content-type"] = form
        body = raw(maker.bent(maker.of(held["schema"]), dice.choice((0.0, 0.02, 0.1))), dice)
    return path, query, body, headers


def shown(faults: list[str], most: int = 10) -> Iterator[str]:
    """The first of them, to be read."""
    yield from faults[:most]
