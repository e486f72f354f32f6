"""What a new thing was first sent as."""

from datetime import datetime
from uuid import UUID

from sqlalchemy import bindparam, delete, insert, select
from sqlalchemy.orm import Session

from kumpan.core.errors import Conflict
from kumpan.store.tables.sent import FirstSent

_COLUMNS = FirstSent.__table__.c
_NEW = insert(FirstSent.__table__).prefix_with("IGNORE")  # type: ignore[arg-type]
_FIRST = select(_COLUMNS.digest).where(
    _COLUMNS.account_id == bindparam("account"), _COLUMNS.id == bindparam("sent")
)


def first_sent(session: Session, account_id: UUID, id: UUID, digest: str, now: datetime) -> None:
    """Note what a new thing is sent as, or wait for whoever is just sending it. Raises Conflict where it was
    sent before as something else.
    """
    row = {"account_id": account_id, "id": id, "digest": digest, "at": now}
    if session.connection().execute(_NEW, row).rowcount:
        return
    refuse_other(session, account_id, id, digest)


def refuse_other(session: Session, account_id: UUID, id: UUID, digest: str) -> None:
    """Raise Conflict where a thing was sent before as something else."""
    if session.scalar(_FIRST, {"account": account_id, "sent": id}) not in (None, digest):
        raise Conflict(
            "id_taken",
            "This was stored already, with other content than you send now. Look at what is stored, and"
            " correct that.",
        )


def forget_sent(session: Session, before: datetime) -> None:
    """Forget what was sent before an instant: nobody sends it again."""
    session.execute(delete(FirstSent).where(FirstSent.at < before))
