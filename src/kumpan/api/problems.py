"""Errors as problem details (RFC 9457), in one place: code -> status."""

import logging
from secrets import token_hex
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel
from sqlalchemy.exc import DataError, DBAPIError, IntegrityError, InterfaceError, OperationalError
from sqlalchemy.exc import TimeoutError as PoolTimeout
from starlette.exceptions import HTTPException

from kumpan.api.headers import HEADERS
from kumpan.core.errors import Conflict, KumpanError, NotFound
from kumpan.store.database import is_away

log = logging.getLogger("kumpan")


class ProblemField(BaseModel):
    """One field at fault."""

    field: str
    code: str
    message: str


class Problem(BaseModel):
    """RFC 9457 problem details with a stable ``code`` and the fields at fault."""

    type: str
    title: str
    status: int
    code: str
    detail: str
    fields: list[ProblemField] = []


# By reference: told as a model it would be worked out anew for each status of each route.
RESPONSES: dict[int | str, dict[str, Any]] = {
    status: {
        "content": {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}},
        "description": text,
    }
    for status, text in (
        (400, "The body is not JSON"),
        (404, "No such thing in this account"),
        (409, "Changed or done meanwhile"),
        (413, "Too large"),
        (422, "A field cannot be used as sent"),
        (503, "The database is away or busy; nothing was stored"),
    )
}

_WORDS = {
    "missing": "This is needed.",
    "extra_forbidden": "Kumpan does not know this field.",
    "uuid_parsing": "This is not an id.",
    "datetime_from_date_parsing": "This is not a date and time.",
    "timezone_aware": "Give the time with its offset, like 2026-11-24T18:31:00-05:00.",
    "string_too_long": "That is too long.",
}


def schemas() -> dict[str, Any]:
    """What ``RESPONSES`` refer to, for the API's description."""
    whole = Problem.model_json_schema(ref_template="#/components/schemas/{model}")
    return {**whole.pop("$defs"), "Problem": whole}


def problem(
    status: int, code: str, title: str, detail: str, fields: list[ProblemField] | None = None
) -> JSONResponse:
    """A problem response."""
    body = Problem(
        type=f"urn:kumpan:problem:{code}",
        title=title,
        status=status,
        code=code,
        detail=detail,
        fields=fields or [],
    )
    return JSONResponse(body.model_dump(), status_code=status, media_type="application/problem+json")


def install(app: FastAPI) -> None:
    """Map every error to its problem."""

    @app.exception_handler(KumpanError)
    def refused(request: Request, error: KumpanError) -> JSONResponse:
        status = 404 if isinstance(error, NotFound) else 409 if isinstance(error, Conflict) else 422
        fields = [ProblemField(field=f.field, code=f.code, message=f.message) for f in error.fields]
        return problem(status, error.code, "Not possible as sent", error.message, fields)

    @app.exception_handler(RequestValidationError)
    def malformed(request: Request, error: RequestValidationError) -> JSONResponse:
        fields = []
        for e in error.errors():
            place = ".".join(str(p) for p in e["loc"] if p not in ("body", "query", "path"))
            fields.append(ProblemField(field=place, code=e["type"], message=_WORDS.get(e["type"], e["msg"])))
        detail = fields[0].message if fields else "The request cannot be read."
        return problem(422, "invalid_input", "Not possible as sent", detail, fields)

    @app.exception_handler(HTTPException)
    def http(request: Request, error: HTTPException) -> JSONResponse:
        return problem(error.status_code, f"http_{error.status_code}", str(error.detail), str(error.detail))

    _install_failures(app)


def _install_failures(app: FastAPI) -> None:
    """Of the database, and of Kumpan itself."""

    @app.exception_handler(OperationalError)
    @app.exception_handler(InterfaceError)
    def unanswered(request: Request, error: DBAPIError) -> JSONResponse:
        if not is_away(error):
            return failed(request, error)
        log.warning("database away: %s", error.orig)
        return problem(
            503,
            "database_away",
            "The database is away",
            "The database is not answering. Nothing was stored; try again in a moment.",
        )

    @app.exception_handler(PoolTimeout)
    def busy(request: Request, error: PoolTimeout) -> JSONResponse:
        return problem(503, "busy", "Busy", "Kumpan is busy. Nothing was stored; try again in a moment.")

    @app.exception_handler(Exception)
    def failed(request: Request, error: Exception) -> JSONResponse:
        mark = token_hex(4)
        log.error("failure %s at %s", mark, request.url.path, exc_info=error)
        text = f"Something went wrong inside Kumpan, and nothing was stored. Its log tells more under {mark}."
        answer = problem(500, "failed", "Failed", text)
        answer.headers.update(HEADERS)  # it is sent from outside of what gives others theirs
        return answer

    @app.exception_handler(IntegrityError)
    def duplicate(request: Request, error: IntegrityError) -> JSONResponse:
        return problem(
            409,
            "id_taken",
            "Already there",
            "This was stored by another request at the same moment. Look again.",
        )

    @app.exception_handler(DataError)
    def unfit(request: Request, error: DataError) -> JSONResponse:
        return problem(
            422, "invalid_input", "Not possible as sent", "A value does not fit where it should be stored."
        )
