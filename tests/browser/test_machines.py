"""The machines in the browser: the low-salt light and the cell on a phone, what to set, going away, the panel."""

import re

import pytest
from playwright.sync_api import Browser, expect

from kumpan.actions.panel.binding import refresh
from support import engine_sessions
from web import Poolside, Site, new_page, serious

POOL = "Fernway Court"


def test_the_low_salt_light_and_the_cell_on_a_phone(browser: Browser, site: Site) -> None:
    p = Poolside(browser, site, POOL)
    page, since = p.page, site.clock.now.isoformat()

    def step(title: str, button: str = "Done") -> None:
        p.at(title)
        page.get_by_role("button", name=button, exact=True).click()

    page.goto(f"{site.url}/pool/machines")
    page.get_by_role("button", name="A light is on").click()
    step("A reminder, or a fault?", "Low salt")
    p.at("Test the salt, not by the panel")
    p.passes(2)  # what is read in the very instant in which the guide began is not of it
    # The test is typed where one stands; it says what the panel could not.
    p.at("Test the salt, not by the panel")
    page.get_by_role("textbox", name="Salt").fill("3000")
    page.get_by_role("button", name="Salt 3000").click()
    p.passes(2)
    p.at("Is there enough salt?")
    expect(page.get_by_text("Salt 3,000 ppm, this cell wants 2,700 to 3,400: enough.")).to_be_visible()
    step("Is there enough salt?", "Salt is enough")
    step("Bubbles or a weak flow?", "Strong jets, no bubbles")
    step("Is it simply cold?", "Warm enough")
    step("Power off at the breaker, a minute, on again")
    step("Give it ten minutes", "It is back: look at the plates")
    for title in (
        "Cell and pump off, at the breaker",
        "Shut the valves on both sides",
        "Cable and cap off, unions loose, cell out",
    ):
        step(title)
    p.at("Hold it against a bright light")
    expect(page.get_by_role("img", name=re.compile("^Plates seen against the light"))).to_be_visible()
    step("Hold it against a bright light", "Thick or flaky deposits")
    step("Flakes off by hand, then the hose")
    step("What sticks: wood or plastic, gently")
    step("Look again", "Still scaled: the acid bath")
    # Its container is asked for; what was typed wrong stays.
    page.get_by_label("What covers the plates").fill("much")
    page.get_by_role("button", name="Begin").click()
    expect(page.get_by_text("is not a number")).to_be_visible()
    expect(page.get_by_label("What covers the plates")).to_have_value("much")
    page.get_by_label("What covers the plates").fill("4")
    page.get_by_role("button", name="Begin").click()
    step("Outdoors: goggles, gloves, mask")
    step("Water first: 3 qt 11 fl oz")
    p.at("Then the acid: 21 fl oz")
    expect(page.get_by_text("Acid into water, never water onto acid")).to_be_visible()
    step("Then the acid: 21 fl oz")
    step("Cell in, terminals dry")
    step("Until the fizzing stops", "Start 10 min")
    page.get_by_role("button", name="Now: the fizzing has stopped").click()
    step("Cell out, rinsed well")
    p.at("Neutralise the bath: 1 lb 3 oz of baking soda")
    page.get_by_role("button", name="Done", exact=True).click()
    step("Look again", "Bare metal")
    page.get_by_role("link", name="Go on: The cell's plates").click()
    step("Cell back in, cable on")
    step("Open both valves again")
    step("Pump on, then the cell")
    step("Controller back to automatic")
    p.at("Look at its output and its timer")
    expect(page.get_by_text(re.compile(r"It ran at \d+ %, 10 h a day"))).to_be_visible()
    step("Look at its output and its timer", "As before")
    step("Is chlorine low?", "Not needed")
    expect(page.get_by_text(re.compile(r"Next look on .*found scale"))).to_be_visible()
    # On record: the test, the grade, what was done, and hence the next interval.
    kinds = p.log(since)
    assert {"water_test", "inspection", "upkeep"} <= set(kinds) and kinds.count("upkeep") == 2
    page.goto(f"{site.url}/pool/machines")
    expect(page.get_by_text("1 acid bath so far.")).to_be_visible()
    assert serious(page) == []


def test_what_to_set_is_shown_and_the_panel_is_bound_set_and_put_into_a_fault(
    browser: Browser, site: Site
) -> None:
    page = new_page(browser, site)
    page.goto(f"{site.url}/pool/machines")
    page.get_by_label("Pool", exact=True).select_option(label=POOL)
    expect(page.get_by_role("img", name=re.compile("Setting against hours: now"))).to_be_visible()
    expect(page.get_by_role("heading", name="Before it is blamed")).to_be_visible()
    page.get_by_role("button", name="bind its panel").click()
    page.get_by_label("Its address").fill("the shed")
    page.get_by_role("button", name="Bind", exact=True).click()
    expect(page.get_by_text("Type its address: http://192.168.1.40")).to_be_visible()
    page.get_by_role("button", name="the simulated one").click()
    expect(page.get_by_text("It was not asked yet: a moment.")).to_be_visible()
    # The stand-in does not run here: that is said, and nothing else waits for it.
    sessions = engine_sessions(site.engine)
    refresh(sessions, lambda address: "", site.clock.now)
    page.reload()
    expect(page.get_by_text("The simulated panel does not run.")).to_be_visible()
    page.get_by_label("Setting, %").fill("140")
    page.get_by_role("button", name="Set it").click()
    expect(page.get_by_text("Between 0 and 100 %.")).to_be_visible()
    expect(page.get_by_label("Setting, %")).to_have_value("140")
    page.get_by_role("button", name="let it go").click()
    expect(page.get_by_role("button", name="bind its panel")).to_be_visible()
    page.get_by_role("link", name="Equipment").click()
    expect(page.get_by_role("link", name="Machines")).to_be_visible()


@pytest.mark.parametrize(("width", "theme"), [(1280, "light"), (390, "dark")])
def test_going_away_days_in_a_short_plan_out(browser: Browser, site: Site, width: int, theme: str) -> None:
    page = new_page(browser, site, width, theme)
    page.goto(f"{site.url}/care/away")
    page.get_by_label("Pool", exact=True).select_option(label=POOL)
    expect(page.get_by_role("heading", level=1)).to_contain_text("7 days away")
    page.get_by_label("Days away").fill("900")
    expect(page.get_by_text("Between 1 and 120 days.")).to_be_visible()
    page.get_by_label("Days away").fill("12")
    expect(page.get_by_role("heading", level=1)).to_contain_text("12 days away")
    expect(page.get_by_role("img", name=re.compile("^Free chlorine"))).to_be_visible()
    expect(page.get_by_text("We are back on Sun 26 Jul.")).to_be_visible()
    assert serious(page) == []
    page.get_by_role("button", name="Begin, step by step").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Going away, step 1 of")
