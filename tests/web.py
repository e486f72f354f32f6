"""The built app as a site that can be lost and brought back, and pages on a fixed clock."""

import socket
import threading
import time
from datetime import datetime, timedelta
from typing import Any

import uvicorn
from playwright.sync_api import Browser, Page, expect
from sqlalchemy import Engine

from kumpan.actions.jobs.run import run_next
from kumpan.ops.work import STAGES
from kumpan.settings import REPO
from support import NOW, Clock, app_on, engine_sessions

_FAR = timedelta(days=2)
DIST = REPO / "web" / "dist"


class Site:
    """The running application with a worker; ``stop`` and ``start`` lose and bring back both."""

    def __init__(self, engine: Engine) -> None:
        with socket.socket() as s:
            s.bind(("127.0.0.1", 0))
            self.port = s.getsockname()[1]
        self.engine, self.clock = engine, Clock()
        self.url = f"http://127.0.0.1:{self.port}"
        self.start()

    def start(self) -> None:
        config = uvicorn.Config(
            app_on(self.engine, self.clock, DIST),
            host="127.0.0.1",
            port=self.port,
            log_level="error",
            timeout_graceful_shutdown=1,
        )
        self.server = uvicorn.Server(config)
        self.thread = threading.Thread(target=self.server.run, daemon=True)
        self.thread.start()
        self.worker = threading.Thread(target=self._work, args=(self.server,), daemon=True)
        self.worker.start()
        while not self.server.started:
            time.sleep(0.02)

    def _work(self, server: uvicorn.Server) -> None:
        while not server.should_exit:
            if not run_next(engine_sessions(self.engine), "site", STAGES, self.clock):
                time.sleep(0.1)

    def go_to(self, instant: datetime, *pages: Page) -> None:
        """Let time go by for app, worker and pages together."""
        passed = instant - self.clock.now
        self.clock.now = instant
        for page in pages:
            if passed > _FAR:
                page.clock.set_system_time(instant)  # its timers hold no more than 24 days in all
            else:
                page.clock.fast_forward(int(passed.total_seconds() * 1000))

    def stop(self) -> None:
        self.server.should_exit = True
        self.thread.join()
        self.worker.join()


def new_page(browser: Browser, site: Site, width: int = 1280, theme: str = "light") -> Page:
    context = browser.new_context(
        viewport={"width": width, "height": 800 if width > 700 else 844},
        locale="en-US",
        timezone_id="America/Chicago",
        reduced_motion="reduce",
    )
    context.add_init_script(
        f"if (!localStorage['kumpan.theme']) localStorage['kumpan.theme'] = JSON.stringify({theme!r})"
    )
    page = context.new_page()
    page.clock.install(time=NOW)
    page.set_default_timeout(20_000)
    return page


def serious(page: Page) -> list[str]:
    """What axe finds serious on a page."""
    page.evaluate(
        (REPO / "web/node_modules/axe-core/axe.min.js").read_text()
    )  # evaluated: our content policy bars script tags
    found = page.evaluate("axe.run(document, {resultTypes: ['violations']})")["violations"]
    return [
        f"{v['id']}: {[n['target'] for n in v['nodes'][:3]]}"
        for v in found
        if v["impact"] in ("serious", "critical")
    ]


# Every tap and every key, wherever the page went meanwhile.
COUNT = """
for (const kind of ["click", "keydown"])
  addEventListener(kind, (e) => {
    if (!e.isTrusted || (kind === "click" && e.detail === 0)) return; // a form's own click after Enter
    sessionStorage.acts = Number(sessionStorage.acts ?? 0) + 1;
  }, true);
"""


class Poolside:
    """A phone in somebody's hand, and a clock that goes on while they work."""

    def __init__(self, browser: Browser, site: Site, pool: str) -> None:
        self.page, self.site = new_page(browser, site, 390), site
        self.page.add_init_script(COUNT)
        self.page.goto(site.url)
        self.passes(8 * 24 * 60)  # a week on, so that the week's work is due
        self.page.get_by_label("Pool", exact=True).select_option(label=pool)
        pools = self.page.request.get(f"{site.url}/api/v1/pools").json()
        self.pool = next(p for p in pools if p["name"] == pool)

    def api(self, url: str, method: str = "get", **body: Any) -> Any:
        answer = getattr(self.page.request, method)(
            f"{self.site.url}/api/v1{url}", **({"data": body} if body else {})
        )
        assert answer.ok, answer.text()
        return answer.json()

    def passes(self, minutes: float) -> None:
        self.site.go_to(self.site.clock.now + timedelta(minutes=minutes), self.page)

    def step(self, title: str, button: str = "Done") -> None:
        self.at(title)
        self.page.get_by_role("button", name=button, exact=True).click()
        self.passes(2)

    def at(self, title: str) -> None:
        """The step that is large."""
        expect(self.page.get_by_role("heading", level=2, name=title, exact=True)).to_be_visible()

    def log(self, since: str) -> list[str]:
        events = self.api(f"/pools/{self.pool['id']}/events")["events"]
        return [e["kind"] for e in events if e["at"] >= since]

    @property
    def acts(self) -> int:
        return int(self.page.evaluate("Number(sessionStorage.acts ?? 0)"))
