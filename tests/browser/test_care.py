"""Care in the browser: the owner's week and the technician's stop walked on a phone, and the year looked at."""

import re
from datetime import timedelta

import httpx
import pytest
from playwright.sync_api import Browser, expect
from uuid6 import uuid7

from support import NOW, pool_body
from web import Poolside, Site, new_page, serious


def test_the_owners_week_from_look_to_swim_time(browser: Browser, site: Site) -> None:
    """W1: tablets, vinyl, sand. Every word said is a tap; the record is a by-product."""
    with httpx.Client(base_url=f"{site.url}/api/v1") as client:
        volume = {"how": "typed", "unit": "gal", "amount": "20,000"}
        made = pool_body(name="Sycamore End", surface="vinyl", chlorine_source="tablets", volume=volume)
        url = f"/pools/{client.post('/pools', json=made).json()['id']}/equipment"
        details = {"medium": {"text": "sand"}, "clean": {"text": "10", "unit": "psi"}}
        client.post(url, json={"id": str(uuid7()), "kind": "filter", "details": details})
    one = Poolside(browser, site, "Sycamore End")
    page, began = one.page, site.clock.now.isoformat()
    page.locator("li", has_text="The weekly clean").get_by_role("button", name="Begin").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Weekly clean, step 1 of 9")
    page.get_by_role("button", name="Level high").click()
    page.get_by_role("button", name="Note this").click()
    expect(page.get_by_label("Found on this walk")).to_contain_text("The backwash will lower it.")
    one.step("Skimmer basket out, rinsed, back")
    expect(page.get_by_text("Here that is from 18 psi on.")).to_be_visible()
    page.get_by_role("button", name="Yes, step by step").click()
    page.get_by_label("Its valve").select_option(label="multiport")  # nobody wrote that down: asked here
    page.get_by_role("button", name="Begin").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Backwash, step 1 of")
    # Walked in its own test; its entry is what counts here.
    page.get_by_role("button", name="give it up").click()
    one.passes(15)
    entry = {"id": str(uuid7()), "at": site.clock.now.isoformat(), "kind": "backwash"}
    one.api(f"/pools/{one.pool['id']}/entries", "post", **entry)
    page.get_by_role("link", name="To Today").click()
    # Pump basket and gauge were done with the filter.
    expect(page.locator("[data-next]")).to_contain_text("The clean, all of it")
    page.locator("[data-next]").get_by_role("link").first.click()
    one.step("The clean, all of it")
    one.at("Test the water")
    page.get_by_role("link", name="Type the test").click()
    page.locator("#reading-fc").fill("0.5")
    page.locator("#reading-ph").fill("7.5")
    page.locator("#reading-ta").fill("95")
    page.get_by_role("button", name=re.compile("^Accept")).last.click()
    one.at("Doses, one at a time")
    page.get_by_role("button", name=re.compile("^Poured .*chlorine")).click()
    one.at("How long did it take?")
    expect(page.get_by_label("Under way besides")).to_contain_text("Re-test")
    one.passes(20)
    page.get_by_role("button", name=re.compile(r"^It took: \d+ min")).click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Weekly clean: done")
    page.get_by_role("link", name="To Today").click()
    expect(page.get_by_text(re.compile("Swim from .* if FC reads"))).to_be_visible()
    assert sorted(set(one.log(began))) == ["backwash", "clean", "dose", "plan", "water_test"]
    rows = one.api(f"/pools/{one.pool['id']}/care")["tasks"]
    due = {t["rule_id"]: t["state"] for t in rows}
    assert {due[id] for id in ("weekly_clean", "filter", "test_fc")} == {"coming"}
    page.context.close()


def test_the_technicians_stop_in_at_most_forty_taps_and_keys(browser: Browser, site: Site) -> None:
    """W2: look, test, pad, basket, acid, the cleaning as its wait, chlorine last, what must hold, minutes."""
    one = Poolside(browser, site, "Upper Garth")
    page, began = one.page, site.clock.now.isoformat()
    details = {"medium": {"text": "cartridge"}, "clean": {"text": "8", "unit": "psi"}}
    id = "0198a1c0-0000-7000-8000-000000000099"
    one.api(f"/pools/{one.pool['id']}/equipment", "post", id=id, kind="filter", details=details)
    care = one.api(f"/pools/{one.pool['id']}/care")
    chosen = care["chosen"] | {"cadence": "technician", "revision": care["revision"]}
    one.api(f"/pools/{one.pool['id']}/care", "put", **chosen)
    page.reload()
    expect(page.get_by_text("The visit", exact=True)).to_be_visible()
    page.evaluate("sessionStorage.acts = 0")
    page.locator("li", has_text="The visit").get_by_role("button", name="Begin").click()
    one.step("Look before you touch", "All as it should be")
    page.get_by_role("link", name="Type the test").click()
    expect(page.get_by_label("Free chlorine", exact=True)).to_be_focused()
    for key in ("1", "Enter", "Enter", *"7.9"):  # past combined chlorine
        page.keyboard.press("Period" if key == "." else key)
    page.get_by_role("button", name=re.compile("^Accept")).last.click()
    one.step("The pad, before any dose", "All right")
    one.step("Does the filter want cleaning?", "No, it is clean enough")
    one.step("Skimmer basket out, rinsed, back")
    one.at("Acid first, if the plan has it")
    page.get_by_role("button", name=re.compile("^Poured .*acid")).click()
    one.step("Soap on the surface, then look at the floor", "Net it")
    one.passes(31)  # the cleaning is the wait
    one.step("The clean, all of it")
    one.at("Chlorine, the last act")
    page.get_by_role("button", name=re.compile("^Poured .*chlorine")).click()
    one.step("What must hold until the next visit")
    page.get_by_role("button", name=re.compile(r"^It took: \d+ min")).click()
    expect(page.get_by_role("heading", level=1)).to_have_text("The stop: done")
    assert one.acts <= 40, one.acts
    assert sorted(set(one.log(began))) == ["clean", "dose", "plan", "water_test"]
    poured = [
        e["title"] for e in one.api(f"/pools/{one.pool['id']}/events")["events"] if e["kind"] == "dose"
    ][:2]
    assert "acid" in poured[1] and "chlorine" in poured[0].lower()  # the newest first
    page.context.close()


@pytest.mark.parametrize(("width", "theme"), [(1280, "light"), (390, "dark")])
def test_care_is_read_changed_put_off_and_undone(
    browser: Browser, site: Site, width: int, theme: str
) -> None:
    page = new_page(browser, site, width, theme)
    errors: list[str] = []
    page.on("pageerror", lambda e: errors.append(str(e)))
    page.goto(f"{site.url}/care")
    site.go_to(NOW + timedelta(days=8), page)
    page.get_by_label("Pool", exact=True).select_option(label="Quarry Row 7")
    expect(page.get_by_role("img", name=re.compile("The year from .* Tests: done"))).to_be_visible()
    assert serious(page) == [] and page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    tablets = page.locator("li", has_text="Top the tablets up")
    tablets.get_by_role("button", name="not now").click()
    tablets.get_by_role("button", name="in three days").click()
    expect(page.get_by_role("status").first).to_contain_text("Top the tablets up: put off.")
    expect(tablets).to_have_count(0)
    page.get_by_role("status").first.get_by_role("button", name="undo").click()
    expect(tablets).to_have_count(1)
    page.get_by_role("button", name=re.compile("^Done: top the tablets up$|^Done$")).first.click()
    expect(page.get_by_role("status").first).to_contain_text("Top the tablets up: done.")
    if width == 390:
        page.get_by_role("button", name="All that comes round").click()
    page.get_by_role("button", name="change").first.click()
    page.get_by_label("It comes round").select_option(label="some days after it was done")
    page.get_by_label("Every so many days").fill("0")
    page.get_by_role("button", name="Keep", exact=True).first.click()
    expect(page.get_by_text("Every 1 to 3660 days; to stop it, turn it off.")).to_be_visible()
    expect(page.get_by_label("Every so many days")).to_have_value("0")
    page.get_by_label("Every so many days").fill("12")
    page.get_by_role("button", name="Keep", exact=True).first.click()
    expect(page.get_by_text("As you set it.")).to_be_visible()
    assert serious(page) == []
    if width == 390:
        page.get_by_role("button", name="In a calendar").click()
    page.get_by_role("button", name="make an address for this pool").click()
    expect(page.get_by_label("Address of the calendar")).to_have_value(
        re.compile(r"/api/v1/calendar/.{40,}\.ics$")
    )
    address = page.get_by_label("Address of the calendar").input_value()
    assert "BEGIN:VCALENDAR" in page.request.get(address).text()
    page.get_by_role("button", name="as a calendar").click()
    expect(page.get_by_text("Six weeks")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth") and errors == []
    page.context.close()
