"""Accounts."""

from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from kumpan.store.tables.accounts import Account


def first_account(session: Session) -> Account | None:
    """The one account there is until sign-in comes."""
    return session.scalars(_FIRST).first()


# Built once, as are others that every request asks: to build a statement and to find its text anew costs more
# than to ask it.
_FIRST = select(Account).order_by(Account.created_at, Account.id).limit(1)


def lock_account(session: Session, account_id: UUID) -> None:
    """Lock the account's row until the end of the transaction."""
    session.execute(select(Account.id).where(Account.id == account_id).with_for_update())
