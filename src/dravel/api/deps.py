"""What routers are handed: the store, and the preferences and shelf it holds."""

from collections.abc import Callable
from typing import Annotated, Any, TypeVar

from fastapi import Depends, Header, HTTPException, Request

from dravel.core.model import Part, Preferences
from dravel.store import Store
from dravel.work.workers import Workers

T = TypeVar("T")


# Not in a worker thread: the hop there and back costs more than this does.
async def _store(request: Request) -> Store:
    store: Store = request.app.state.store
    return store


StoreDep = Annotated[Store, Depends(_store)]


async def _crew(request: Request) -> Workers:
    workers: Workers = request.app.state.workers
    return workers


CrewDep = Annotated[Workers, Depends(_crew)]


# In a worker thread: a database that another program holds locked must not hold up everybody else.
def _preferences(store: StoreDep) -> Preferences:
    return store.preferences()[0]


def shelf_of(store: StoreDep) -> tuple[Part, ...]:
    """All parts that are not put away."""
    return tuple(entry.body for entry in store.parts.all())


PreferencesDep = Annotated[Preferences, Depends(_preferences)]
ShelfDep = Annotated[tuple[Part, ...], Depends(shelf_of)]


async def _raw(request: Request) -> bytes:
    return await request.body()


# Read here, understood in a worker thread by the endpoint that asks for it.
BodyDep = Annotated[bytes, Depends(_raw)]

# A creation repeated under the same key, as when its answer was lost, makes nothing twice.
KeyDep = Annotated[str, Header(alias="Idempotency-Key", pattern=r"^[!-~]{8,80}$")]


def once(make: Callable[..., T], *given: Any, **more: Any) -> T:
    """Make something under a key; a key that made something of another kind is refused by name."""
    try:
        return make(*given, **more)
    except ValueError as error:
        raise HTTPException(422, f"Idempotency-Key: {error}") from None
