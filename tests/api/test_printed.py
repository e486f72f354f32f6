"""Sheets of paper, read back: one page, the text in its order, fonts embedded, black and white."""

import io
import re

import pytest
from fastapi.testclient import TestClient
from pypdf import PdfReader
from sqlalchemy import Engine
from uuid6 import uuid7

from kumpan.actions.printed.paper import Line, Page, pdf, plain
from support import NOW, Clock, app_on, client_on, pool_body

PAPER = {"letter": (612, 792), "a4": (595, 842)}


def page_of(data: bytes, size: str):  # type: ignore[no-untyped-def]
    reader = PdfReader(io.BytesIO(data))
    assert len(reader.pages) == 1
    page = reader.pages[0]
    assert tuple(round(float(v)) for v in page.mediabox[2:]) == PAPER[size]
    fonts = [f.get_object() for f in page["/Resources"]["/Font"].get_object().values()]
    assert fonts and all("/FontFile2" in f["/FontDescriptor"] for f in fonts if "/FontDescriptor" in f)
    assert sum("/FontDescriptor" in f for f in fonts) >= 2
    # No colour is ever set: black on white is grey.
    operators = re.findall(rb"(?<![\w.])(rg|RG|k|K|sc|SC|scn|SCN|cs|CS)\b", page.get_contents().get_data())
    assert all(op in (b"rg", b"RG") for op in operators)
    sets = re.findall(rb"([\d.]+) ([\d.]+) ([\d.]+) (?:rg|RG)", page.get_contents().get_data())
    assert all(r == g == b for r, g, b in sets)
    return page


def in_order(text: str, words: list[str]) -> bool:
    at = 0
    for word in words:
        at = text.find(word, at)
        if at < 0:
            return False
        at += len(word)
    return True


@pytest.mark.parametrize("size", PAPER)
def test_a_plan_and_today_stand_on_one_page_each(demo_engine: Engine, clock: Clock, size: str) -> None:
    with client_on(app_on(demo_engine, clock)) as client:
        pools = {p["name"]: p["id"] for p in client.get("/api/v1/pools").json()}
        body = {"id": str(uuid7()), "at": NOW.isoformat(), "subject": "closing", "day": "2026-10-18"}
        sheet = client.post(f"/api/v1/pools/{pools['Fernway Court']}/season-plans", json=body).json()
        answer = client.get(f"/api/v1/sheets/{sheet['id']}/paper.pdf?size={size}")
        assert answer.headers["content-type"] == "application/pdf"
        text = page_of(answer.content, size).extract_text().replace("\n", " ")
        titles = [s["guide"]["title"] if s["guide"] else s["plan"]["title"] for s in sheet["steps"]]
        assert in_order(text, ["Closing: Fernway Court", "Tue 13 Oct", titles[0], titles[1], "Sun 18 Oct"])
        assert all(title.split(":")[0] in text for title in titles if title != "Cover on")
        assert "advises, does not certify" in text
        today = client.get(f"/api/v1/pools/{pools['Fernway Court']}/today.pdf?size={size}")
        text = page_of(today.content, size).extract_text()
        assert in_order(text, ["Under way", "The water now", "Free chlorine"])


def test_what_cannot_be_printed_is_told(client: TestClient, pool: dict) -> None:
    answer = client.get(f"/api/v1/pools/{pool['id']}/today.pdf?size=a5")
    assert answer.status_code == 422 and answer.json()["fields"][0]["field"] == "size"
    assert client.get(f"/api/v1/sheets/{uuid7()}/paper.pdf").status_code == 404
    text = page_of(client.get(f"/api/v1/pools/{pool['id']}/parts.pdf").content, "letter").extract_text()
    assert "No part was put away" in text
    other = client.post("/api/v1/pools", json=pool_body(name="Łódź → Šumava 池")).json()
    text = page_of(client.get(f"/api/v1/pools/{other['id']}/parts.pdf").content, "letter").extract_text()
    assert "Łódź to Šumava ?" in text


@pytest.mark.parametrize("rows", [0, 1, 12, 45, 90])
def test_any_number_of_rows_stands_on_one_page_in_order(rows: int) -> None:
    """Room runs out of what stands under a row first, of size next, never of rows."""
    under = ("A caution that is as long as cautions are. " * 2, "How it is done, at some length. " * 3)
    made = tuple(Line(f"Row number {i} of all these rows", "15 min", under) for i in range(rows))
    text = page_of(pdf(Page("A plan", ("Below it.",), made, "foot"), "letter"), "letter").extract_text()
    assert in_order(text.replace("\n", " "), ["A plan", "Below it."])
    found = [int(n) for n in re.findall(r"Row number (\d+) of", text.replace("\n", " "))]
    assert found == list(range(rows))
    assert plain("½ lb ≤ 3") == "½ lb at most 3"
