"""What every route is given: the account, the clock, and one transaction."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, TypeVar

from fastapi import Depends, Request
from sqlalchemy.orm import Session, sessionmaker

from kumpan.core.errors import KumpanError
from kumpan.store import database, queries
from kumpan.store.tables import Account

T = TypeVar("T")


@dataclass(frozen=True)
class Scope:
    """One request's account, instant and way to the database."""

    sessions: sessionmaker[Session]
    now: datetime
    pick_account: Callable[[Session], Account | None]

    def run(self, work: Callable[[Session, Account], T]) -> T:
        """Run ``work`` in one transaction for this account, committed before the answer leaves."""

        def with_account(session: Session) -> T:
            account = self.pick_account(session)
            if account is None:
                raise KumpanError(
                    "no_account", "There is no account yet. Start Kumpan once with ./kumpan start."
                )
            return work(session, account)

        return database.run(self.sessions, with_account)


def account_picker() -> Callable[[Session], Account | None]:
    """The one dependency every query takes its account from. Sign-in will replace it."""
    return queries.first_account


def scope(
    request: Request, pick: Annotated[Callable[[Session], Account | None], Depends(account_picker)]
) -> Scope:
    """The request's scope; the clock is injected by the application."""
    return Scope(request.app.state.sessions, request.app.state.clock(), pick)


InScope = Annotated[Scope, Depends(scope)]
