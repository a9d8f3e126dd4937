"""One field for everything: rigs, parts, targets, sessions, marks, documents, rules, and what the sky's lists hold."""

from functools import lru_cache
from typing import Annotated, Literal
from urllib.parse import quote

from fastapi import APIRouter, Query

from dravel.api.deps import StoreDep
from dravel.catalogue.objects import catalogue
from dravel.core.model.base import Model
from dravel.core.overview.rule_book import RulePage, pages
from dravel.store.search import WORD

router = APIRouter(tags=["find"])
MOST, MOST_RULES, MOST_SKY = 24, 8, 5
FoundKind = Literal[
    "rig", "part", "target", "site", "assembly", "growth", "preferences", "session", "marks", "paper", "rule", "sky"
]


class Found(Model):
    """Something that was found, the address that opens it, and the words around."""

    kind: FoundKind
    title: str
    words: str
    place: str
    away: bool = False


PLACES: dict[str, str] = {
    "rig": "/rigs/{id}", "part": "/shelf?part={id}", "target": "/sky?target={title}", "site": "/sky", "growth": "/stages",
    "assembly": "/shelf", "preferences": "/preferences", "session": "/log?session={id}", "marks": "/log?session={id}",
}  # fmt: skip


@router.get("/find")
def find(store: StoreDep, words: Annotated[str, Query(max_length=120)] = "") -> list[Found]:
    """What has all of the words in it, each as a word or its beginning; what is kept first, then rules, then the sky."""
    results = [
        Found(
            kind=hit.kind,
            title=hit.title,
            words=hit.around.strip(),
            place=_place(hit.kind, hit.id, hit.title),
            away=hit.archived,
        )
        for hit in store.search.find(words, MOST)
        if hit.kind in PLACES or hit.kind == "paper"
    ]
    asked = [item.lower() for item in WORD.findall(words)]
    if not asked:
        return []
    rules = [page for page, text in _rules() if all(item in text for item in asked)]
    rules.sort(key=lambda page: page.code.lower() != asked[0])
    results += [
        Found(kind="rule", title=f"{page.code} {page.title}", words=page.checks, place=f"/rules/{page.code}")
        for page in rules[:MOST_RULES]
    ]
    kept = {item.title for item in results if item.kind == "target"}
    results += [
        Found(kind="sky", title=target.name, words=", ".join(target.aliases[:3]), place=f"/?add={quote(target.name)}")
        for target in catalogue().search(words, MOST_SKY)
        if target.name not in kept
    ]
    return results


def _place(kind: str, key: str, title: str) -> str:
    if kind == "paper":
        of, _, owner = key.partition("/")
        return PLACES["part" if of == "part" else "session"].format(id=owner)
    return PLACES[kind].format(id=quote(key), title=quote(title))


@lru_cache(maxsize=1)
def _rules() -> tuple[tuple[RulePage, str], ...]:
    return tuple(
        (page, f"{page.code} {page.title} {page.checks} {page.why} {page.fix} {page.formula}".lower())
        for page in pages()
    )
