"""What stands before every route: no other page's requests, no endless bodies, nobody who never reads."""

import asyncio

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from kumpan.api.headers import HEADERS
from kumpan.api.problems import problem

MOST_BODY_BYTES = 256 * 1024
BODY = "kumpan.body"  # where a request's scope holds it
PATIENCE_S = 60.0  # for the next part of a body, or for a reader of an answer
_READS = ("GET", "HEAD", "OPTIONS")


class Guard:
    """Goes around the whole application."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """ASGI."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return

        async def answer(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                for name, value in HEADERS.items():
                    headers.setdefault(name, value)
            async with asyncio.timeout(PATIENCE_S):
                await send(message)

        if scope["method"] not in _READS:
            if not _from_our_own_page(Headers(scope=scope)):
                text = "Kumpan takes this from its own pages alone, not from another site's."
                await problem(403, "other_site", "From another site", text)(scope, receive, answer)
                return
            held = await _body(receive)
            if held is None:
                return
            if isinstance(held, tuple):
                refusal = problem(*held)
                refusal.headers["Connection"] = "close"  # what is left of the body is not a next request
                await refusal(scope, receive, answer)
                return
            scope[BODY], receive = held, _again(held, receive)
        await self.app(scope, receive, answer)


def _from_our_own_page(headers: Headers) -> bool:
    """Whether no other site's page sent this: browsers say where a request comes from, and cannot be made
    to lie. What is no browser says nothing.
    """
    said = headers.get("sec-fetch-site")
    if said is not None:
        return said in ("same-origin", "none")
    origin = headers.get("origin")
    return origin is None or origin == f"http://{headers.get('host')}"


async def _body(receive: Receive) -> bytes | tuple[int, str, str, str] | None:
    """A request's whole body, before any of it is acted on; a problem where it is too long or has no end;
    None if its sender has gone.
    """
    chunks: list[bytes] = []
    size, more = 0, True
    while more:
        try:
            async with asyncio.timeout(PATIENCE_S):
                message = await receive()
        except TimeoutError:
            return 408, "too_slow", "Too slow", "The rest of this did not arrive. Nothing was stored."
        if message["type"] == "http.disconnect":
            return None
        chunks.append(message.get("body", b""))
        size += len(chunks[-1])
        more = message.get("more_body", False)
        if size > MOST_BODY_BYTES:
            return 413, "too_large", "Too large", "That is more than Kumpan takes at once (256 kB)."
    return b"".join(chunks)


def _again(body: bytes, receive: Receive) -> Receive:
    held: list[Message] = [{"type": "http.request", "body": body, "more_body": False}]

    async def replay() -> Message:
        return held.pop() if held else await receive()

    return replay
