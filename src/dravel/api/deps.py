"""What routers are handed: the store, and the practice and shelf it holds."""

from typing import Annotated

from fastapi import Depends, Request

from dravel.core.model import Part, Practice
from dravel.store import Store


# Not in a worker thread: the hop there and back costs more than this does.
async def _store(request: Request) -> Store:
    store: Store = request.app.state.store
    return store


StoreDep = Annotated[Store, Depends(_store)]


# In a worker thread: a database that another program holds locked must not hold up everybody else.
def _practice(store: StoreDep) -> Practice:
    return store.practice()[0]


def shelf_of(store: StoreDep) -> tuple[Part, ...]:
    """All parts that are not put away."""
    return tuple(entry.body for entry in store.parts.all())


PracticeDep = Annotated[Practice, Depends(_practice)]
ShelfDep = Annotated[tuple[Part, ...], Depends(shelf_of)]


async def _raw(request: Request) -> bytes:
    return await request.body()


# Read here, understood in a worker thread by the endpoint that asks for it.
BodyDep = Annotated[bytes, Depends(_raw)]
