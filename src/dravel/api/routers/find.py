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
    "rig", "part", "target", "site", "assembly", "growth", "practice", "session", "marks", "paper", "rule", "sky"
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
    "assembly": "/shelf", "practice": "/practice", "session": "/log?session={id}", "marks": "/log?session={id}",
}  # fmt: skip


@router.get("/find")
def find(store: StoreDep, words: Annotated[str, Query(max_length=120)] = "") -> list[Found]:
    """What has all of the words in it, each as a word or its beginning; what is kept first, then rules, then the sky."""
    found = [
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
    asked = [one.lower() for one in WORD.findall(words)]
    if not asked:
        return []
    rules = [page for page, text in _rules() if all(one in text for one in asked)]
    rules.sort(key=lambda page: page.code.lower() != asked[0])
    found += [
        Found(kind="rule", title=f"{page.code} {page.title}", words=page.checks, place=f"/rules/{page.code}")
        for page in rules[:MOST_RULES]
    ]
    kept = {one.title for one in found if one.kind == "target"}
    found += [
        Found(kind="sky", title=target.name, words=", ".join(target.aliases[:3]), place=f"/?add={quote(target.name)}")
        for target in catalogue().search(words, MOST_SKY)
        if target.name not in kept
    ]
    return found


def _place(kind: str, key: str, title: str) -> str:
    if kind == "paper":
        of, _, owner = key.partition("/")
        return PLACES["part" if of == "part" else "session"].format(id=owner)
    return PLACES[kind].format(id=quote(key), title=quote(title))


@lru_cache(maxsize=1)
def _rules() -> tuple[tuple[RulePage, str], ...]:
    return tuple(
        (page, f"{page.code} {page.title} {page.checks} {page.why} {page.mend} {page.formula}".lower())
        for page in pages()
    )
