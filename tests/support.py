"""Shared by the tests: the fixed instant, an environment, bodies for the API."""

import os
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from uuid6 import uuid7

NOW = datetime(2026, 7, 14, 22, 40, tzinfo=UTC)  # 17:40 in Chicago


class Clock:
    now = NOW

    def __call__(self) -> datetime:
        return self.now


def pool_body(**more: Any) -> dict[str, Any]:
    return {
        "id": str(uuid7()), "name": "Garden", "place": "Larch Hollow", "time_zone": "America/Chicago",
        "volume": {"how": "typed", "unit": "gal", "amount": "15,000"}, "surface": "plaster", "chlorine_source": "liquid",
        "installation": "in_ground", "sanitizer": "chlorine",
    } | more  # fmt: skip


def readings(**values: str) -> list[dict[str, Any]]:
    return [
        {"measure": m, "text": v, "unit": "" if m == "ph" else "°F" if m == "temp" else "ppm", "method": "thermometer" if m == "temp" else "drops"}
        for m, v in values.items()
    ]


def a_test(at: datetime = NOW, **values: str) -> dict[str, Any]:
    return {"id": str(uuid7()), "at": at.isoformat(), "readings": readings(**values)}


LOW = {"fc": "1.0", "ph": "7.9", "ta": "95", "ch": "280", "cya": "40"}


def problem(answer, status: int, code: str, field: str | None = None) -> str:  # type: ignore[no-untyped-def]
    assert answer.status_code == status, answer.text
    body = answer.json()
    assert answer.headers["content-type"] == "application/problem+json"
    assert set(body) >= {"type", "title", "status", "code", "detail", "fields"} and body["status"] == status
    if field is None:
        assert body["code"] == code
        return str(body["detail"])
    found = [f for f in body["fields"] if f["field"] == field]
    assert found, body["fields"]
    assert found[0]["code"] == code
    return str(found[0]["message"])


def environment(**more: str) -> dict[str, str]:
    """The environment for a launched Kumpan."""
    return {**os.environ, "PYTHONPATH": str(Path(__file__).parents[1] / "src"), **more}
