"""The Shelf: products at hand, what of them was used, how they are stored, and what labels ask for
in a pool.
"""

from typing import Annotated, Literal
from uuid import UUID

from fastapi import Query
from pydantic import BaseModel, Field

from kumpan.actions.shelf import items, view
from kumpan.actions.shelf.items import ShelfInput
from kumpan.api.bodies import Body, Id, Revision, Text
from kumpan.api.deps import InScope
from kumpan.api.routes import Routes
from kumpan.store.tables.accounts import Account
from kumpan.store.tables.shelf import ShelfItem

router = Routes("shelf")


class ShelfFields(Body):
    """A product that stands ready, as typed; see ``ShelfInput``."""

    product_id: Id
    strength: Text = ""
    stock: Text = ""
    stock_unit: Id = ""
    pack: Text = ""
    pack_unit: Id = ""
    price: Text = ""
    minimum: Text = ""
    minimum_unit: Id = ""
    bought: Text = ""
    kept: Text = ""
    kept_unit: Literal["f", "c"] = "f"
    rate: Text = ""
    rate_unit: Id = ""
    rate_per: Literal["gal", "l"] = "gal"

    def fields(self) -> ShelfInput:
        """As the use case takes it."""
        return ShelfInput(**{name: getattr(self, name) for name in ShelfFields.model_fields})


class ShelfItemView(BaseModel):
    """One product as typed; a form sends it back with what was changed."""

    id: UUID
    revision: int
    removed: bool
    typed: ShelfFields


class ShelfView(BaseModel):
    """What stands on the shelf, in words and as typed."""

    told: view.Shelf
    items: list[ShelfItemView]


class NewShelfItem(ShelfFields):
    """A product to put on the shelf. id: a UUID version 7 made by the client."""

    id: UUID


class ShelfItemChange(ShelfFields):
    """A changed one."""

    revision: Revision


class RestockBody(Body):
    """Packages just bought."""

    packs: Annotated[float, Field(gt=0, le=1000)] = 1
    revision: Revision


def _view(item: ShelfItem, account: Account) -> ShelfItemView:
    typed = ShelfFields(product_id=item.product_id, **item.typed)
    return ShelfItemView(id=item.id, revision=item.revision, removed=item.removed_at is not None, typed=typed)


@router.get("/shelf")
def get_shelf(scope: InScope, pool_id: Annotated[UUID | None, Query()] = None) -> ShelfView:
    """The account's shelf; what labels ask for in this pool where one is named."""
    return scope.run(
        lambda c: ShelfView(
            told=view.shelf(c, pool_id),
            items=[_view(i, c.account) for i in view.listed(c)],
        )
    )


@router.post("/shelf/items", status_code=201)
def add_item(body: NewShelfItem, scope: InScope) -> ShelfItemView:
    """Put a product on the shelf. Sending it again returns the first result."""
    return scope.create(body.id, lambda c: _view(items.add_item(c, body.id, body.fields()), c.account))


@router.put("/shelf/items/{item_id}")
def put_item(item_id: UUID, body: ShelfItemChange, scope: InScope) -> ShelfItemView:
    """Change a product; 409 if it was changed meanwhile."""
    return scope.run(lambda c: _view(items.change_item(c, item_id, body.fields(), body.revision), c.account))


@router.post("/shelf/items/{item_id}/restock")
def restock(item_id: UUID, body: RestockBody, scope: InScope) -> ShelfItemView:
    """Packages just bought; 409 if it was changed meanwhile, so sending twice adds once."""
    return scope.run(lambda c: _view(items.restock(c, item_id, body.packs, body.revision), c.account))


@router.delete("/shelf/items/{item_id}")
def remove_item(item_id: UUID, scope: InScope) -> ShelfItemView:
    """Take a product off the shelf."""
    return scope.run(lambda c: _view(items.remove_item(c, item_id, True), c.account))


@router.post("/shelf/items/{item_id}/restore")
def put_back(item_id: UUID, scope: InScope) -> ShelfItemView:
    """Undo taking it off."""
    return scope.run(lambda c: _view(items.remove_item(c, item_id, False), c.account))
