"""W3 in the browser on simulated time: a green pool led to clear by held level, and on a phone by timed bags; an
incident led to the table's row.
"""

import re
from datetime import datetime, timedelta
from random import Random
from zoneinfo import ZoneInfo

from playwright.sync_api import Browser, Locator, Page, expect

from clearup_runs import BLOOM, DEPTH_M, LOOK_WORDS, Bloom
from kumpan.core.amounts import parse_amount
from kumpan.core.products.catalogue import PRODUCTS, form_of
from kumpan.core.simulation.pool import Setup
from kumpan.core.simulation.priors import Nature
from kumpan.core.units import gal_to_l
from kumpan.core.water.state import WaterState
from support import NOW
from web import Site, new_page

ZONE = ZoneInfo("America/Chicago")
POOL = "Old Mill Yard"


class AtThePool:
    """Somebody with the app in hand: reads the step that is large, does it at a simulated pool, presses its
    button.
    """

    def __init__(
        self, page: Page, site: Site, method: str, algae_mg_l: float, by_minutes: bool = False
    ) -> None:
        self.page, self.site, self.method, self.by_minutes = page, site, method, by_minutes
        gallons = re.match(r"([\d,]+) US gal", self.pool()["summary"])
        assert gallons is not None
        litres = gal_to_l(float(gallons[1].replace(",", "")))
        water = WaterState(0.0, 1.0, 8.0, 105, 240, 40, 600, 26.0, sulfate_ppm=0.0)
        setup = Setup(litres, litres / 1000 / DEPTH_M, DEPTH_M, sun=0.75)
        self.bloom = Bloom(setup, Nature(), water, algae_mg_l, site.clock.now.astimezone(ZONE))
        self.rng, self.titles = Random(4), list[str]()

    def api(self, url: str) -> dict:
        answer = self.page.request.get(f"{self.site.url}/api/v1{url}")
        assert answer.ok, answer.text()
        return answer.json()  # type: ignore[no-any-return]

    def pool(self) -> dict:
        pools = self.page.request.get(f"{self.site.url}/api/v1/pools").json()
        return next(p for p in pools if p["name"] == POOL)  # type: ignore[no-any-return]

    def sheet(self) -> dict:
        return self.api(f"/sheets/{self.page.url.rpartition('/do/')[2].partition('#')[0]}")

    def next(self) -> dict:
        sheet = self.sheet()
        return next(s for s in sheet["steps"] if s["key"] == sheet["next_key"])

    def walk(self, most_days: float) -> None:
        """Until the sheet has ended."""
        until = NOW + timedelta(days=most_days)
        while self.site.clock.now < until:
            sheet = self.sheet()
            if sheet["state"] != "under_way":
                return
            step = next(s for s in sheet["steps"] if s["key"] == sheet["next_key"])
            if step["state"] == "later":
                due = datetime.fromisoformat(step["due_at"]) + timedelta(minutes=2)
                self.site.go_to(max(due, self.site.clock.now + timedelta(minutes=2)), self.page)
                self.bloom.live_until(self.site.clock.now.astimezone(ZONE))
                self.page.reload()
                continue
            self.do(step)

    def do(self, step: dict) -> None:
        """The step that is next, as its page has it."""
        plan, key = step["plan"], step["key"]
        title = plan["title"] if plan else step["guide"]["title"]
        heading = self.page.get_by_role("heading", level=2)
        expect(heading).to_have_text(title)
        self.titles.append(title)
        if plan and plan["kind"] == "add":
            amount = plan["amount"]
            expect(self.page.locator("main")).to_contain_text(amount["parts"][0]["number"])
            form = form_of(PRODUCTS[plan["product_id"]])
            grams = parse_amount(f"{amount['value']:g}", amount["unit"], form)
            self.bloom.pool.pour(plan["product_id"], grams, plan["strength"])
            self.press(self.page.get_by_role("button", name=f"Poured {amount['text']}"))
        elif plan:
            values = self.bloom.read(self.method, tuple(step["measures"]), self.rng, "thinned" in title)
            for measure, value in values.items():
                typed = f"{value * 1.8 + 32:.0f}" if measure == "temp" else f"{value:g}"
                self.page.get_by_label(MEASURES[measure], exact=True).fill(typed)
            self.press(self.page.locator("form button[type=submit]"))
        else:
            choices = [c[0] for c in step["guide"]["choices"]]
            word = (
                LOOK_WORDS[self.bloom.seen()] if "green" in choices else "Cleaned it" if choices else "Done"
            )
            self.bloom.do(key)
            self.press(self.page.get_by_role("button", name=word, exact=True))
        # The page's clock goes along only where it has to: that wakes all that it does by time.
        self.site.go_to(
            self.site.clock.now + timedelta(seconds=30), *([self.page] if self.by_minutes else [])
        )

    def press(self, button: Locator) -> None:
        """Press, and wait for the server to have it."""
        with self.page.expect_response(lambda r: r.request.method == "POST" and r.ok):
            button.click()


MEASURES = {
    "fc": "Free chlorine", "cc": "Combined chlorine", "tc": "Total chlorine", "ph": "pH", "cya": "Stabilizer",
    "phosphate": "Phosphate", "temp": "Water temperature",
}  # fmt: skip


def asked(page: Page, site: Site) -> None:
    page.goto(site.url)
    page.get_by_label("Pool", exact=True).select_option(label=POOL)
    expect(page.get_by_label("May we swim tonight?")).to_be_visible()
    page.get_by_role("link", name="Clear-up: shock, algae, an incident, a complaint").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("How bad is it?")
    page.get_by_role("button", name=re.compile("^Steps only")).click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Treat it")


def test_green_to_clear_by_held_level(browser: Browser, site: Site) -> None:
    page = new_page(browser, site)
    asked(page, site)
    # Identify: what is seen leaves copper in it, one answer more names it.
    page.get_by_role("button", name="Look closer").click()
    page.get_by_role("button", name="Green", exact=True).first.click()
    page.get_by_role("button", name="Clear, only coloured or with deposits").click()
    page.get_by_role("button", name="Nothing there to brush").click()
    expect(page.get_by_text("Dissolved copper or green algae: too near to tell by the eye.")).to_be_visible()
    page.get_by_role("button", name="Slimy").click()
    expect(page.get_by_text("Most likely green algae.")).to_be_visible()
    expect(page.get_by_text("Treat or drain?")).to_be_visible()
    expect(page.get_by_text("To have before it starts")).to_be_visible()
    page.get_by_role("button", name="Begin this run").first.click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Clear-up, hold the level")
    expect(page.get_by_text(re.compile("No swimming tonight"))).to_be_visible()
    told = page.get_by_text(re.compile(r"^\d+ to \d+ days$")).inner_text()
    someone = AtThePool(page, site, "drops", BLOOM["tint"])
    someone.walk(14)
    expect(page.get_by_role("heading", level=1)).to_have_text("Clear-up: done")
    assert {
        "Pump on round the clock",
        "Check the level",
        "Read it before sunrise",
        "Put the pump's timer back",
    } <= set(someone.titles)
    expect(page.get_by_text(told, exact=True)).to_be_visible()  # as told at the start, beside what happened
    expect(page.get_by_text("The kill is over")).to_be_visible()
    expect(page.get_by_text("What the log says about why")).to_be_visible()
    page.context.close()


def test_green_to_clear_by_timed_bags_on_a_phone(browser: Browser, site: Site) -> None:
    phone = new_page(browser, site, 390, "dark")
    asked(phone, site)
    phone.get_by_label("Chlorine is read by").select_option(label="Test strip")
    expect(phone.get_by_role("button", name=re.compile("^Timed bags"))).to_have_attribute(
        "aria-pressed", "true"
    )
    phone.get_by_role("button", name="Begin this run").last.click()
    expect(phone.get_by_role("heading", level=1)).to_have_text("Clear-up, timed bags")
    # A check typed wrong is told at its field and keeps what was typed.
    someone = AtThePool(phone, site, "strip", BLOOM["steps"] / 2)
    while (step := someone.next())["key"] != "test:0":
        someone.do(step)
    phone.get_by_label("Free chlorine", exact=True).fill("lots")
    phone.locator("form button[type=submit]").click()
    expect(phone.get_by_text("is not a number").first).to_be_visible()
    phone.reload()
    expect(phone.get_by_label("Free chlorine", exact=True)).to_have_value("lots")
    someone.walk(16)
    expect(phone.get_by_role("heading", level=1)).to_have_text("Clear-up: done")
    assert sum(title.startswith("Liquid chlorine") for title in someone.titles) >= 3
    assert "Read it in the morning" in someone.titles and "Put the pump's timer back" in someone.titles
    phone.context.close()


def test_an_incident_is_led_to_the_tables_row_on_a_phone(browser: Browser, site: Site) -> None:
    phone = new_page(browser, site, 390)
    phone.goto(site.url)
    phone.get_by_label("Pool", exact=True).select_option(label=POOL)
    expect(phone.get_by_label("May we swim tonight?")).to_be_visible()
    phone.goto(f"{site.url}/clear-up")
    phone.get_by_role("button", name="Stool, vomit or a dead animal in it").click()
    phone.get_by_role("button", name="Diarrhoea", exact=True).click()
    expect(phone.get_by_text("20 ppm for 12 h 45 min")).to_be_visible()
    expect(phone.get_by_text(re.compile("the table has no row"))).to_be_visible()  # this pool's stabilizer
    phone.get_by_role("button", name="Vomit", exact=True).click()
    expect(phone.get_by_text("2 ppm for 50 min")).to_be_visible()
    phone.get_by_role("button", name="Everyone is out: begin").last.click()
    expect(phone.get_by_role("heading", level=1)).to_have_text("Incident, vomit")
    expect(phone.get_by_text(re.compile("No swimming: nobody goes in after an incident"))).to_be_visible()
    someone = AtThePool(phone, site, "drops", 1e-3, by_minutes=True)
    someone.walk(3)
    expect(phone.get_by_role("heading", level=1)).to_have_text("Incident: done")
    expect(phone.get_by_text("A row of the table is met")).to_be_visible()
    expect(phone.get_by_text("What counted")).to_be_visible()
    assert {"Everyone out, the pool closed", "Lift it out", "Keep the record"} <= set(someone.titles)
    assert someone.titles.count("Read it again") >= 1
    # A complaint beside it: one test, the cause it settles, and that it helped.
    phone.goto(f"{site.url}/clear-up")
    phone.get_by_role("button", name="Eyes sting, skin itches, it smells of chlorine").click()
    expect(phone.get_by_role("heading", level=1)).to_contain_text("Eyes sting, or it smells")
    expect(phone.get_by_role("heading", level=2)).to_have_text("Test chlorine and pH")
    site.go_to(site.clock.now + timedelta(minutes=5), phone)
    for label, value in (("Free chlorine", "2"), ("Combined chlorine", "0.9"), ("pH", "7.5")):
        phone.get_by_label(label, exact=True).fill(value)
    someone.press(phone.locator("form button[type=submit]"))
    expect(phone.get_by_text("Combined chlorine 0.9 ppm, high", exact=False)).to_be_visible()
    someone.press(phone.get_by_role("button", name="Yes", exact=True))
    expect(phone.get_by_role("heading", level=2)).to_have_text(
        "Combined chlorine: too little free, not too much"
    )
    phone.context.close()
