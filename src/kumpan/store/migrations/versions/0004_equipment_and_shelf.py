"""Equipment, and the shelf as rows: stock is what was counted less what was poured since."""

import json
from datetime import UTC, date, datetime

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql
from uuid6 import uuid7

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    instant = mysql.DATETIME(fsp=6)
    op.create_table(
        "equipment",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("pool_id", sa.Uuid(), nullable=False),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("make_model", sa.String(120), nullable=False),
        sa.Column("details", sa.JSON(), nullable=False),
        sa.Column("typed", sa.JSON(), nullable=False),
        sa.Column("bought", sa.Date(), nullable=True),
        sa.Column("warranty_until", sa.Date(), nullable=True),
        sa.Column("note", sa.String(400), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("created_at", instant, nullable=False),
        sa.Column("removed_at", instant, nullable=True),
        sa.ForeignKeyConstraint(["pool_id"], ["pool.id"]),
        sa.PrimaryKeyConstraint("id"),
        if_not_exists=True,
    )
    op.create_index("ix_equipment_pool_id", "equipment", ["pool_id"], if_not_exists=True)
    shelf = op.create_table(
        "shelf_item",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("account_id", sa.Uuid(), nullable=False),
        sa.Column("product_id", sa.String(40), nullable=False),
        sa.Column("strength", sa.Float(53), nullable=True),
        sa.Column("stock", sa.Float(53), nullable=True),
        sa.Column("counted_at", instant, nullable=True),
        sa.Column("pack", sa.Float(53), nullable=True),
        sa.Column("price_minor", sa.Integer(), nullable=True),
        sa.Column("minimum", sa.Float(53), nullable=True),
        sa.Column("bought", sa.Date(), nullable=True),
        sa.Column("kept_c", sa.Float(53), nullable=True),
        sa.Column("rate", sa.Float(53), nullable=True),
        sa.Column("typed", sa.JSON(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("created_at", instant, nullable=False),
        sa.Column("removed_at", instant, nullable=True),
        sa.ForeignKeyConstraint(["account_id"], ["account.id"]),
        sa.PrimaryKeyConstraint("id"),
        if_not_exists=True,
    )
    op.create_index("ix_shelf_item_account_id", "shelf_item", ["account_id"], if_not_exists=True)
    if "at_hand" in {c["name"] for c in sa.inspect(op.get_bind()).get_columns("account")}:
        _move(op.get_bind(), shelf)
        op.drop_column("account", "at_hand")


def _move(bind: sa.Connection, shelf: sa.Table) -> None:
    """Lists of products become rows; a volume ticked as proved says so itself."""
    now = datetime.now(UTC).replace(tzinfo=None)
    account = sa.table("account", sa.column("id", sa.Uuid()), sa.column("at_hand", sa.JSON()))
    for account_id, rows in bind.execute(sa.select(account.c.id, account.c.at_hand)).all():
        for row in rows or []:
            held = row["canonical"]
            bind.execute(
                shelf.insert().values(
                    id=uuid7(),
                    account_id=account_id,
                    product_id=row["product_id"],
                    strength=held["strength"],
                    stock=held["stock"],
                    counted_at=None if held["stock"] is None else now,
                    pack=held["pack"],
                    price_minor=held["price_minor"],
                    bought=date.fromisoformat(held["bought"]) if held.get("bought") else None,
                    kept_c=held.get("kept_c"),
                    typed={k: v for k, v in row.items() if k not in ("canonical", "product_id")},
                    revision=1,
                    created_at=now,
                )
            )
    bind.execute(account.update().values(at_hand=sa.null()))  # in the transaction of what is moved
    pool = sa.table(
        "pool",
        sa.column("id", sa.Uuid()),
        sa.column("volume_input", sa.JSON()),
        sa.column("settings", sa.JSON()),
    )
    for pool_id, given, settings in bind.execute(
        sa.select(pool.c.id, pool.c.volume_input, pool.c.settings)
    ).all():
        settings = json.loads(settings) if isinstance(settings, str) else settings
        if settings and settings.pop("volume_proved", False):
            given = given | {"within": 0.03} | ({"sure": "proved"} if given["how"] == "typed" else {})
            bind.execute(
                pool.update().where(pool.c.id == pool_id).values(volume_input=given, settings=settings)
            )
