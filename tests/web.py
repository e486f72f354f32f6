"""The built app as a site that can be lost and brought back, and pages on a fixed clock."""

import socket
import threading
import time
from datetime import datetime

import uvicorn
from playwright.sync_api import Browser, Page
from sqlalchemy import Engine

from kumpan.actions.jobs.run import run_next
from kumpan.main import create_app
from kumpan.ops.work import STAGES
from kumpan.settings import REPO
from support import NOW, Clock, engine_sessions

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
            create_app(self.engine, DIST, self.clock),
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
