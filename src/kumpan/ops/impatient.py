"""HTTP as uvicorn speaks it, to those who finish their sentences: a request whose head never ends would stay
open for ever.
"""

import asyncio

import h11
from uvicorn.protocols.http.h11_impl import H11Protocol

HEAD_S = 15.0  # for a request's head, from the first of its connection or the end of the answer before


class Impatient(H11Protocol):
    """Closes a connection that has not said all of its next request's head in time."""

    hurry: asyncio.TimerHandle | None = None

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        """Of asyncio."""
        super().connection_made(transport)
        self._watch()

    def data_received(self, data: bytes) -> None:
        """Of asyncio."""
        super().data_received(data)
        self._watch()

    def on_response_complete(self) -> None:
        """Of uvicorn."""
        super().on_response_complete()
        self._watch()

    def connection_lost(self, exc: Exception | None) -> None:
        """Of asyncio."""
        super().connection_lost(exc)
        self._calm()

    def _watch(self) -> None:
        if self.conn.their_state is not h11.IDLE:
            self._calm()
        elif self.hurry is None:
            self.hurry = self.loop.call_later(HEAD_S, self.transport.close)

    def _calm(self) -> None:
        if self.hurry is not None:
            self.hurry.cancel()
            self.hurry = None
