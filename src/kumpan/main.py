"""The web application: API under /api, the built front end beside it."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from fastapi import FastAPI, Request
from fastapi.middleware.gzip import GZipMiddleware
from fastapi.middleware.trustedhost import TrustedHostMiddleware
from fastapi.responses import FileResponse, Response
from fastapi.staticfiles import StaticFiles
from pydantic import BaseModel
from sqlalchemy import Engine, event, text
from sqlalchemy.orm import Session, sessionmaker

from kumpan import __version__
from kumpan.api import (
    accounts,
    care,
    clearup,
    equipment,
    exports,
    files,
    forecast,
    imports,
    jobs,
    log,
    machines,
    meta,
    plans,
    pools,
    problems,
    seasons,
    sheets,
    shelf,
    today,
)
from kumpan.api.guard import Guard
from kumpan.api.routes import Later


class Health(BaseModel):
    """Whether server and database answer."""

    status: str
    version: str


@dataclass(frozen=True)
class Beside:
    """What runs beside the application. inbox: the folder a worker looks after, within Kumpan's data folder;
    find_panel: from a panel's address as bound to the one to ask; changed: called once a change is committed.
    """

    inbox: str = ""
    find_panel: Callable[[str], str] = lambda address: address
    changed: Callable[[], None] = lambda: None


def create_app(
    engine: Engine,
    web_dist: Path | None = None,
    clock: Callable[[], datetime] | None = None,
    beside: Beside | None = None,
) -> FastAPI:
    """The application on a database. clock: the injected now (aware), by default the system's."""
    beside = beside or Beside()
    app = _Described(
        title="Kumpan", version=__version__, docs_url=None, redoc_url=None, openapi_url="/api/openapi.json"
    )
    app.state.sessions = sessionmaker(engine, expire_on_commit=False)
    _tell(app.state.sessions, beside.changed)
    app.state.clock = clock or (lambda: datetime.now(UTC))
    app.state.inbox = beside.inbox
    app.state.find_panel = beside.find_panel
    app.add_middleware(GZipMiddleware, minimum_size=1000)
    # Loopback only: a page elsewhere cannot reach us under a name of its own.
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=["127.0.0.1", "localhost"])
    app.add_middleware(Guard)
    problems.install(app)
    for module in (
        meta,
        accounts,
        pools,
        equipment,
        forecast,
        seasons,
        shelf,
        today,
        plans,
        sheets,
        clearup,
        care,
        machines,
        log,
        exports,
        files,
        imports,
        jobs,
    ):
        module.router.add_to(app)

    @app.get("/api/health", responses={503: problems.RESPONSES[503]})
    def health() -> Health:
        """Whether server and database answer."""
        with engine.connect() as connection:
            connection.execute(text("SELECT 1"))
        return Health(status="ok", version=__version__)

    if web_dist is not None:
        _serve_front_end(app, web_dist)
    return app


def _tell(sessions: sessionmaker[Session], changed: Callable[[], None]) -> None:
    """Call whenever rows that were written are committed; a plan worked out while typing writes none."""

    def written(session: Session, *_: object) -> None:
        session.info["written"] = True

    def committed(session: Session) -> None:
        if session.info.pop("written", False):
            changed()

    event.listen(sessions, "after_flush", written)
    event.listen(sessions, "after_commit", committed)


class _Described(FastAPI):
    """With what its problems look like among its schemas."""

    def openapi(self) -> dict[str, Any]:
        """The API's description."""
        if self.openapi_schema is None:
            self.router.routes[:] = [r.route if isinstance(r, Later) else r for r in self.router.routes]
            super().openapi()["components"]["schemas"] |= problems.schemas()
        assert self.openapi_schema is not None
        return self.openapi_schema


def _serve_front_end(app: FastAPI, dist: Path) -> None:
    app.mount("/assets", StaticFiles(directory=dist / "assets"), name="assets")

    @app.get("/{path:path}", include_in_schema=False)
    def page(request: Request, path: str) -> Response:
        """The single page for every view; a real 404 under /api."""
        if path.startswith("api/") or path == "api":
            return problems.problem(404, "not_found", "Not found", "There is no such address in the API.")
        if path == "favicon.svg":
            return FileResponse(dist / "favicon.svg", headers={"Cache-Control": "max-age=86400"})
        return FileResponse(dist / "index.html", headers={"Cache-Control": "no-cache"})
