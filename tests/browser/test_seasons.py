"""Seasons in the browser: closed in autumn, opened next spring from the parts list, once clear and once green."""

import re
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from playwright.sync_api import Browser, expect
from uuid6 import uuid7

from support import NOW, a_test
from web import Poolside, Site, new_page, serious

ZONE = ZoneInfo("America/Chicago")
BALANCED = {"fc": "3", "ph": "7.5", "ta": "90", "ch": "250", "cya": "40", "salt": "3000", "temp": "58"}
PLACES = {"pump": "cellar", "hoses": "hook by the door", "returns": "blue box", "returns_below": "blue box"}


class Yard(Poolside):
    """Somebody at a pool, from one day of the year to another; what is dull is said past the screen."""

    sheet = ""

    def to(self, local: str) -> None:
        self.site.go_to(datetime.fromisoformat(local).replace(tzinfo=ZONE), self.page)

    def read(self, **values: str) -> None:
        self.site.clock.now += timedelta(minutes=2)
        test = a_test(self.site.clock.now, **(values or BALANCED))
        self.api(f"/pools/{self.pool['id']}/tests", "post", **test)

    def say(self, key: str, value: str = "", verb: str = "answer") -> list[dict]:
        """Say it past the screen; returns the steps as they stand then."""
        self.site.clock.now += timedelta(minutes=1)
        at = self.site.clock.now.isoformat()
        word = {"id": str(uuid7()), "at": at, "key": key, "verb": verb, "value": value}
        return self.api(f"/sheets/{self.sheet}/marks", "post", **word)["steps"]

    def steps(self) -> list[dict]:
        self.site.clock.now += timedelta(minutes=1)
        return self.api(f"/sheets/{self.sheet}")["steps"]

    def waited(self, steps: list[dict]) -> bool:
        """Let the time pass that the next step waits for, up to a night."""
        due = min((datetime.fromisoformat(s["due_at"]) for s in steps if s["state"] == "later"), default=None)
        if due is None or not timedelta() < due - self.site.clock.now < timedelta(hours=20):
            return False
        self.site.clock.now = due + timedelta(minutes=1)
        return True

    def rush(self, answers: dict[str, str], until: str) -> None:
        """All that may be done, in the plan's order, up to a step."""
        steps = self.steps()
        for _ in range(90):
            step = next((s for s in steps if s["state"] == "open" and not s["held"]), None)
            if step is None and self.waited(steps):
                steps = self.steps()
                continue
            if step is None or step["key"] == until:
                break
            guide = step["guide"]
            if guide is None and step["plan"]["kind"] == "retest":
                self.read()
                steps = self.steps()
            elif guide is None:
                at = self.site.clock.now.isoformat()
                self.api(f"/sheets/{self.sheet}/steps/{step['key']}/tick", "post", id=str(uuid7()), at=at)
                steps = self.steps()
            elif guide["kind"] == "timer":
                self.say(step["key"], verb="timer")
                self.site.clock.now += timedelta(minutes=guide["minutes"])
                steps = self.steps()
            else:
                usual = guide["choices"][0][0] if guide["choices"] else "shed" if guide["text"] else "9 psi"
                verb = "decide" if guide["kind"] == "decide" else "answer"
                steps = self.say(step["key"], answers.get(step["key"], PLACES.get(step["key"], usual)), verb)
        self.page.clock.set_system_time(self.site.clock.now)

    def open_plan(self, button: str, day: str) -> None:
        self.page.goto(f"{self.site.url}/care/season")
        self.page.get_by_label("The day").fill(day)
        self.page.get_by_role("button", name=button).click()
        self.page.wait_for_url(re.compile("/do/"))
        self.sheet = self.page.url.rpartition("/")[2].partition("#")[0]

    def look(self) -> None:
        self.page.goto(f"{self.site.url}/do/{self.sheet}")


def test_an_above_ground_pool_is_closed_and_opened_clear(browser: Browser, site: Site) -> None:
    yard = Yard(browser, site, "Upper Garth")
    page = yard.page
    yard.to("2026-10-10T10:00:00")
    yard.open_plan("Make the closing plan", "2026-10-18")
    expect(page.get_by_role("heading", level=1)).to_contain_text("Closing, Sun 18 Oct")
    # Its day comes; the test is typed where one stands.
    yard.to("2026-10-13T17:00:00")
    yard.look()
    yard.at("Full test, and a quart for the shop")
    for label, value in (
        ("Free chlorine", "3"),
        ("pH", "7.5"),
        ("Total alkalinity", "90"),
        ("Calcium", "120"),
        ("Stabilizer", "40"),
    ):
        page.get_by_role("textbox", name=re.compile(label)).fill(value)
    page.get_by_role("button", name=re.compile("^FC 3")).click()
    yard.at("Balanced for cold water")
    expect(page.get_by_text(re.compile("At 40 °F its index is"))).to_be_visible()
    yard.read()
    yard.look()
    yard.step("Balanced for cold water")
    # A day that breaks the order is refused at its field; one that keeps it moves.
    yard.look()
    page.get_by_role("button", name="another day for all of it").click()
    page.get_by_label("The plan is for").fill("2026-10-01")
    page.get_by_role("button", name="Move").click()
    expect(page.get_by_text("That day is past.").first).to_be_visible()
    page.get_by_label("The plan is for").fill("2026-10-20")
    page.get_by_role("button", name="Move").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Tue 20 Oct")
    yard.to("2026-10-20T09:00:00")
    yard.rush({}, "hoses")
    # A part and its place: not beside chemicals.
    yard.look()
    yard.at("Hoses off, drained")
    page.get_by_label("Where does it lie now?").fill("with the chlorine")
    page.get_by_role("button", name="Done, it lies there").click()
    expect(page.get_by_text("Not beside chemicals").first).to_be_visible()
    expect(page.get_by_label("Where does it lie now?")).to_have_value("with the chlorine")
    page.get_by_label("Where does it lie now?").fill("hook by the door")
    page.get_by_role("button", name="Done, it lies there").click()
    expect(page.get_by_role("heading", level=2, name="Hoses off, drained")).to_be_hidden()
    yard.rush({}, "shut")
    yard.look()
    yard.step("Gate locked, nothing to climb")
    yard.rush({"notes": "A new gasket."}, "")
    yard.look()
    expect(page.get_by_text(re.compile("Closed on 20 Oct 2026"))).to_be_visible()
    # Spring: the season's page tells where everything lies; the plan asks for it there.
    yard.to("2027-04-24T09:00:00")
    yard.open_plan("Make the opening plan", "2027-04-24")
    yard.at("Gate: wide open, half open, a hand's width")
    page.get_by_role("button", name="Shuts and latches from all three").click()
    yard.rush({}, "hoses")
    yard.look()
    yard.at("Hoses on, clamps tight")
    expect(page.get_by_text(re.compile("By the last list: hook by the door"))).to_be_visible()
    yard.rush({"temp": "56 f", "fill_above": "900 gal"}, "look")
    yard.look()
    yard.at("Look at the water")
    page.get_by_role("button", name="Clear, floor in sight, under 65 °F").click()
    yard.at("Ten minutes of pump")
    steps = {s["key"]: s for s in yard.api(f"/sheets/{yard.sheet}")["steps"]}
    assert steps["run"]["state"] == steps["dusk"]["state"] == "skipped"
    yard.rush({}, "shock")
    yard.to("2027-04-24T20:30:00")
    yard.look()
    page.get_by_role("button", name=re.compile("^Poured")).click()
    expect(page.get_by_role("button", name=re.compile("^Poured"))).to_be_hidden()
    yard.to("2027-04-26T10:00:00")
    yard.rush({}, "")
    yard.look()
    expect(page.get_by_text(re.compile("Opened on 24 Apr 2027 at 56 °F"))).to_be_visible()
    # The record is a by-product.
    kinds = yard.log("2026-10-10")
    assert {"season", "refill", "inspection", "water_test", "dose"} <= set(kinds)
    assert yard.acts < 40


def test_a_salt_pool_is_closed_and_opened_green(browser: Browser, site: Site) -> None:
    yard = Yard(browser, site, "Fernway Court")
    page = yard.page
    yard.to("2026-11-28T10:00:00")
    page.goto(f"{site.url}/care/season")
    page.get_by_label("Antifreeze in the lines").select_option(label="yes, propylene glycol")
    page.get_by_label("Lines in all").fill("much")
    page.get_by_label("The day").fill("2026-12-05")
    page.get_by_role("button", name="Make the closing plan").click()
    expect(page.get_by_text("is not a number").first).to_be_visible()
    page.get_by_label("Lines in all").fill("120")
    page.get_by_role("button", name="Make the closing plan").click()
    page.wait_for_url(re.compile("/do/"))
    yard.sheet = page.url.rpartition("/")[2].partition("#")[0]
    yard.to("2026-12-05T09:00:00")
    yard.rush({}, "cell")
    yard.look()
    page.get_by_role("button", name=re.compile("all .* steps")).click()
    # 120 ft of nominal 1.5 in hold 12.7 gal (0.106 gal a foot: check values).
    expect(page.get_by_text("Antifreeze into the blown lines: 12.7 gal").first).to_be_visible()
    yard.rush({"cell": "linen cupboard"}, "")
    yard.look()
    expect(page.get_by_text(re.compile("Closed on 5 Dec 2026"))).to_be_visible()
    yard.to("2027-04-10T09:00:00")
    yard.open_plan("Make the opening plan", "2027-04-10")
    yard.rush({"temp": "71 f", "fill": "3000 gal"}, "look")
    yard.look()
    page.get_by_role("button", name="Green, or the floor is not in sight").click()
    yard.at("Clear it up first")
    expect(page.get_by_role("link", name="To Clear-up")).to_be_visible()
    run = {"aim": "algae", "severity": "tint", "looks": 2, "method": "drops"}
    yard.read(fc="0", ph="7.4", ta="90", ch="250", cya="30", temp="71")
    at = site.clock.now.isoformat()
    begun = yard.api(f"/pools/{yard.pool['id']}/clear-ups", "post", id=str(uuid7()), at=at, asked=run)
    yard.passes(2)
    yard.say("ten", verb="timer")
    yard.passes(12)
    yard.look()
    yard.at("Chlorine and pH")
    expect(page.get_by_text(re.compile("has the water: this waits until it is over"))).to_be_visible()
    at = site.clock.now.isoformat()
    yard.api(f"/sheets/{begun['id']}/marks", "post", id=str(uuid7()), at=at, key="", verb="give_up")
    yard.passes(2)
    yard.rush({}, "full")
    yard.to("2027-04-11T12:00:00")
    yard.rush({}, "cell")
    yard.to("2027-04-12T10:00:00")
    yard.rush({}, "cell")
    yard.look()
    yard.at("Cell in, and on")
    expect(page.get_by_text(re.compile("By the last list: linen cupboard"))).to_be_visible()
    yard.step("Cell in, and on")
    yard.at("Its low-salt light goes out")


@pytest.mark.parametrize(("width", "theme"), [(1280, "light"), (390, "dark")])
def test_the_season_is_read_and_printed(browser: Browser, site: Site, width: int, theme: str) -> None:
    page = new_page(browser, site, width, theme)
    page.goto(site.url)
    page.get_by_label("Pool", exact=True).select_option(label="Upper Garth")
    page.goto(f"{site.url}/care/season")
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    expect(page.get_by_label("The day")).to_be_visible()
    assert serious(page) == []
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    day = (NOW + timedelta(days=30)).date().isoformat()
    page.get_by_label("The day").fill(day)
    page.get_by_role("button", name="Make the").first.click()
    page.wait_for_url(re.compile("/do/"))
    expect(page.get_by_role("link", name="the plan on paper (Letter)")).to_be_visible()
    assert serious(page) == []
    paper = page.get_by_role("link", name="(A4)").get_attribute("href")
    assert page.request.get(f"{site.url}{paper}").body().startswith(b"%PDF")
