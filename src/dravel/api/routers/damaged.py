"""What is kept and cannot be read any more, and what of it can be saved."""

from fastapi import APIRouter, Response

from dravel.api.deps import StoreDep
from dravel.api.files import a_file
from dravel.core.model.base import Model
from dravel.store import Unknown

router = APIRouter(prefix="/damaged", tags=["damaged"])


class DamagedThing(Model):
    """A kept thing that cannot be read: its kind, id and, as far as it can be told, name, and why."""

    kind: str
    id: str
    name: str
    because: str
    revision: int | None = None


@router.get("")
def list_damaged(store: StoreDep) -> list[DamagedThing]:
    """Everything that is damaged; nothing, as a rule. A rig's `revision` is the one that can be undone."""
    return [
        DamagedThing(kind=item.kind, id=item.id, name=item.name, because=item.because, revision=item.revision)
        for item in store.damaged()
    ]


@router.get("/{kind}/{entry_id}", response_class=Response, responses={200: {"content": {"text/plain": {}}}})
def read_damaged(kind: str, entry_id: str, store: StoreDep) -> Response:
    """What is there of a damaged thing, exactly as it is kept."""
    for item in store.damaged():
        if (item.kind, item.id) == (kind, entry_id):
            return a_file(item.raw, "text/plain; charset=utf-8", f"{kind}-{entry_id}-damaged.txt")
    raise Unknown(f"damaged {kind}", entry_id)
