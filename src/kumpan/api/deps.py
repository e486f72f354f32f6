"""What every route is given: a context in one transaction."""

import hashlib
import json
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, TypeVar
from urllib.parse import unquote
from uuid import UUID

from fastapi import Depends, Header, Request
from sqlalchemy.orm import Session, sessionmaker

from kumpan.actions.context import Context
from kumpan.api.guard import BODY
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
    request: Request

    def run(self, work: Callable[[Context], T]) -> T:
        """Run ``work`` in one transaction for this account, committed before the answer leaves."""

        def with_context(session: Session) -> T:
            account = self.pick_account(session)
            if account is None:
                text = "There is no account yet. Start Kumpan once with ./kumpan start."
                raise KumpanError("no_account", text)
            return work(Context(session, account, self.actor, self.now))

        return database.run(self.sessions, with_context)

    def create(self, id: UUID, work: Callable[[Context], T]) -> T:
        """Run ``work``, which makes a new thing of this id or returns the one made before. Raises Conflict
        where that was sent with other content.
        """
        digest = self._digest()

        def once(context: Context) -> T:
            queries.first_sent(context.session, context.account.id, id, digest, context.now)
            return work(context)

        return self.run(once)

    def refuse_other(self, id: UUID) -> None:
        """Raise Conflict where ``create`` would for what was sent, before something is done that cannot be
        rolled back.
        """
        digest = self._digest()
        self.run(lambda c: queries.refuse_other(c.session, c.account.id, id, digest))

    def _digest(self) -> str:
        return _digest(self.request.url.path, self.request.scope[BODY])


def _digest(path: str, body: bytes) -> str:
    """Of what was sent, whatever its spelling in JSON; not of the sender's time, which goes on as it sends
    again.
    """

    def timeless(value: object) -> object:
        if isinstance(value, dict):
            return {k: timeless(v) for k, v in value.items() if k != "at"}
        return [timeless(v) for v in value] if isinstance(value, list) else value

    text = json.dumps([path, timeless(json.loads(body))], sort_keys=True)
    return hashlib.sha256(text.encode()).hexdigest()


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
    return Scope(request.app.state.sessions, pick, actor, request.app.state.clock(), request)


InScope = Annotated[Scope, Depends(scope)]
