"""A noun's routes, named where they are written and built when they are first asked for."""

from collections.abc import Callable
from functools import cached_property
from typing import Any, TypeVar

from fastapi import APIRouter, FastAPI
from starlette.routing import BaseRoute, Match, compile_path
from starlette.types import Receive, Scope, Send

from kumpan.api.problems import RESPONSES

F = TypeVar("F", bound=Callable[..., Any])
PREFIX = "/api/v1"


class Routes:
    """Like the framework's router, which builds every route twice before the first answer: as it is declared,
    and as it is included. How a route answers is told as to FastAPI.
    """

    def __init__(self, tag: str) -> None:
        self.tag = tag
        self.held: list[tuple[str, str, Callable[..., Any], dict[str, Any]]] = []

    def get(self, path: str, **how: Any) -> Callable[[F], F]:
        """A route that reads."""
        return self._route("GET", path, how)

    def post(self, path: str, **how: Any) -> Callable[[F], F]:
        """A route that makes something, or works something out."""
        return self._route("POST", path, how)

    def put(self, path: str, **how: Any) -> Callable[[F], F]:
        """A route that changes something."""
        return self._route("PUT", path, how)

    def delete(self, path: str, **how: Any) -> Callable[[F], F]:
        """A route that takes something away."""
        return self._route("DELETE", path, how)

    def _route(self, method: str, path: str, how: dict[str, Any]) -> Callable[[F], F]:
        def declared(endpoint: F) -> F:
            self.held.append((method, path, endpoint, how))
            return endpoint

        return declared

    def add_to(self, app: FastAPI) -> None:
        """Let an application serve them."""
        for method, path, endpoint, how in self.held:
            responses = RESPONSES | how.get("responses", {})
            told = how | {"methods": [method], "tags": [self.tag], "responses": responses}
            app.router.routes.append(Later(app, PREFIX + path, endpoint, told))


class Later(BaseRoute):
    """A route that is built when its address is first asked for."""

    def __init__(self, app: FastAPI, path: str, endpoint: Callable[..., Any], told: dict[str, Any]) -> None:
        self.app, self.path, self.endpoint, self.told = app, path, endpoint, told
        self.pattern = compile_path(path)[0]

    @cached_property
    def route(self) -> BaseRoute:
        """The route itself, built apart from all others: several threads may ask for theirs at once."""
        alone = APIRouter(dependency_overrides_provider=self.app)
        alone.add_api_route(self.path, self.endpoint, **self.told)
        return alone.routes[0]

    def matches(self, scope: Scope) -> tuple[Match, Scope]:
        """Whether it serves a request."""
        if scope["type"] != "http" or not self.pattern.match(scope["path"]):
            return Match.NONE, {}
        return self.route.matches(scope)

    async def handle(self, scope: Scope, receive: Receive, send: Send) -> None:
        """ASGI."""
        await self.route.handle(scope, receive, send)
