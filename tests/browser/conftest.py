"""The built app in headless Chromium, on a real database and a fixed clock."""

from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, Page, expect, sync_playwright
from sqlalchemy import Engine

from web import DIST, Site, new_page

expect.set_options(timeout=20_000)  # a busy machine is slow, not wrong


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    assert (DIST / "index.html").exists(), "build the front end first: ./kumpan test does"
    with sync_playwright() as p:
        browser = p.chromium.launch(executable_path="/usr/bin/chromium")
        yield browser
        browser.close()


@pytest.fixture
def empty_site(engine: Engine) -> Iterator[Site]:
    site = Site(engine)
    yield site
    site.stop()


@pytest.fixture
def site(demo_engine: Engine) -> Iterator[Site]:
    site = Site(demo_engine)
    yield site
    site.stop()


@pytest.fixture
def page(browser: Browser, site: Site) -> Iterator[Page]:
    page = new_page(browser, site)
    yield page
    page.context.close()
