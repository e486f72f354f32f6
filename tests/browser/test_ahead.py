"""The days ahead in the browser: the sentence on Today, its score behind why, the page at both sizes and themes."""

import re
from datetime import timedelta

import pytest
from playwright.sync_api import Browser, expect

from kumpan.actions.forecast.make import Maker
from support import NOW, a_test, engine_sessions
from web import Site, new_page, serious

POOL = "Signal House Inn"


@pytest.mark.parametrize(("width", "theme"), [(1280, "light"), (390, "dark")])
def test_what_is_to_come_is_said_on_today_and_told_with_its_score(
    browser: Browser, site: Site, width: int, theme: str
) -> None:
    page = new_page(browser, site, width, theme)
    page.goto(site.url)
    pool = next(p for p in page.request.get(f"{site.url}/api/v1/pools").json() if p["name"] == POOL)
    Maker(engine_sessions(site.engine)).make_due(NOW)
    # Three days later something is read: what was stored comes due.
    site.go_to(NOW + timedelta(days=3, hours=1), page)
    read = a_test(at=site.clock.now, fc="3.0", ph="7.4")
    assert page.request.post(f"{site.url}/api/v1/pools/{pool['id']}/tests", data=read).status == 201
    page.reload()
    page.get_by_label("Pool", exact=True).select_option(label=POOL)
    sentence = page.get_by_text(re.compile("^Chlorine (lasts|holds|should hold|reads|is probably)"))
    expect(sentence).to_be_visible()
    said = sentence.inner_text()
    page.get_by_role("button", name="why? How far the forecast can be trusted").click()
    expect(page.get_by_role("dialog")).to_contain_text("stored once a test")
    expect(page.get_by_role("dialog")).to_contain_text("of 1 came out")
    page.keyboard.press("Escape")
    page.get_by_role("link", name="the days ahead").click()
    headline = page.get_by_role("heading", level=1)
    expect(headline).to_have_text(said)
    expect(page.get_by_role("link", name="Ahead")).to_have_attribute("aria-current", "page")
    graphs = page.get_by_role("group", name=re.compile("^Graphs"))
    expect(graphs.locator('path[fill="url(#to-come)"]')).to_have_count(2)  # chlorine and pH
    for part in ("What a day takes", "Until then", "What it will cost", "If nobody is here"):
        expect(page.get_by_role("region", name=part)).to_be_visible()
    days = page.get_by_label("Days", exact=True)
    days.fill("0")
    expect(page.get_by_text("Between 1 and 120 days.")).to_be_visible()
    expect(days).to_have_value("0")
    days.fill("14")
    expect(page.get_by_text(re.compile("^14 days away"))).to_be_visible()
    assert serious(page) == [] and page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    page.get_by_role("link", name="Graphs").click()
    expect(graphs.locator("circle")).not_to_have_count(0)
    expect(graphs.locator('path[fill="url(#to-come)"]')).not_to_have_count(0)
    page.context.close()
