"""The Shelf: products at hand, what of them was used, how they are stored, and what labels ask for
in a pool.
"""

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query
from pydantic import BaseModel

from kumpan.actions import keep_shelf, read_shelf
from kumpan.api.deps import InScope
from kumpan.api.problems import RESPONSES
from kumpan.api.schemas.bodies import NewShelfItem, RestockBody, ShelfFields, ShelfItemChange
from kumpan.store.tables import Account, ShelfItem

router = APIRouter(responses=RESPONSES, tags=["shelf"])


class ShelfItemView(BaseModel):
    """One product as typed; a form sends it back with what was changed."""

    id: UUID
    revision: int
    removed: bool
    typed: ShelfFields


def _view(item: ShelfItem, account: Account) -> ShelfItemView:
    typed = ShelfFields(product_id=item.product_id, **item.typed)
    return ShelfItemView(id=item.id, revision=item.revision, removed=item.removed_at is not None, typed=typed)


class ShelfView(BaseModel):
    """What stands on the shelf, in words and as typed."""

    told: read_shelf.Shelf
    items: list[ShelfItemView]


@router.get("/shelf")
def get_shelf(scope: InScope, pool_id: Annotated[UUID | None, Query()] = None) -> ShelfView:
    """The account's shelf; what labels ask for in this pool where one is named."""
    return scope.run(
        lambda c: ShelfView(
            told=read_shelf.shelf(c, pool_id),
            items=[_view(i, c.account) for i in read_shelf.listed(c)],
        )
    )


@router.post("/shelf/items", status_code=201)
def add_item(body: NewShelfItem, scope: InScope) -> ShelfItemView:
    """Put a product on the shelf. Sending it again returns the first result."""
    return scope.run(lambda c: _view(keep_shelf.add_item(c, body.id, body.given()), c.account))


@router.put("/shelf/items/{item_id}")
def put_item(item_id: UUID, body: ShelfItemChange, scope: InScope) -> ShelfItemView:
    """Change a product; 409 if it was changed meanwhile."""
    return scope.run(
        lambda c: _view(keep_shelf.change_item(c, item_id, body.given(), body.revision), c.account)
    )


@router.post("/shelf/items/{item_id}/restock")
def restock(item_id: UUID, body: RestockBody, scope: InScope) -> ShelfItemView:
    """Packages just bought; 409 if it was changed meanwhile, so sending twice adds once."""
    return scope.run(lambda c: _view(keep_shelf.restock(c, item_id, body.packs, body.revision), c.account))


@router.delete("/shelf/items/{item_id}")
def remove_item(item_id: UUID, scope: InScope) -> ShelfItemView:
    """Take a product off the shelf."""
    return scope.run(lambda c: _view(keep_shelf.remove_item(c, item_id, True), c.account))


@router.post("/shelf/items/{item_id}/put-back")
def put_back(item_id: UUID, scope: InScope) -> ShelfItemView:
    """Undo taking it off."""
    return scope.run(lambda c: _view(keep_shelf.remove_item(c, item_id, False), c.account))
