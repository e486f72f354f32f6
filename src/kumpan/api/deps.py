"""What every route is given: a context in one transaction."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, TypeVar
from urllib.parse import unquote

from fastapi import Depends, Header, Request
from sqlalchemy.orm import Session, sessionmaker

from kumpan.actions.context import Context
from kumpan.core.errors import KumpanError
from kumpan.core.plain import can_be_seen, plain
from kumpan.store import database, queries
from kumpan.store.tables.accounts import Account

T = TypeVar("T")
AccountPicker = Callable[[Session], Account | None]
UNNAMED = "you"
_LONGEST_NAME = 80


@dataclass(frozen=True)
class Scope:
    """One request's way to the database, its account, who is at it and when."""

    sessions: sessionmaker[Session]
    pick_account: AccountPicker
    actor: str
    now: datetime

    def run(self, work: Callable[[Context], T]) -> T:
        """Run ``work`` in one transaction for this account, committed before the answer leaves."""

        def with_context(session: Session) -> T:
            account = self.pick_account(session)
            if account is None:
                text = "There is no account yet. Start Kumpan once with ./kumpan start."
                raise KumpanError("no_account", text)
            return work(Context(session, account, self.actor, self.now))

        return database.run(self.sessions, with_context)


def account_picker() -> AccountPicker:
    """The one dependency every query takes its account from. Sign-in will replace it."""
    return queries.first_account


def actor(kumpan_actor: Annotated[str, Header(include_in_schema=False)] = "") -> str:
    """Who is at it: the name the device remembers, percent-encoded in a header. Sign-in will replace it."""
    name = plain(unquote(kumpan_actor)).strip()[:_LONGEST_NAME]
    return name if can_be_seen(name) else UNNAMED


def scope(
    request: Request,
    pick: Annotated[AccountPicker, Depends(account_picker)],
    actor: Annotated[str, Depends(actor)],
) -> Scope:
    """The request's scope; the clock is injected by the application."""
    return Scope(request.app.state.sessions, pick, actor, request.app.state.clock())


InScope = Annotated[Scope, Depends(scope)]
