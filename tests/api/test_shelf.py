"""The Shelf: what stands there decides plans, doses draw on it, ages and labels are told, and what is wrong
is named.
"""

from datetime import timedelta
from typing import Any

import pytest
from fastapi.testclient import TestClient
from uuid6 import uuid7

from support import LOW, NOW, Clock, problem, readings


def put(client: TestClient, **item: str) -> dict[str, Any]:
    answer = client.post("/api/v1/shelf/items", json={"id": str(uuid7()), **item})
    assert answer.status_code == 201, answer.text
    return answer.json()


def line(client: TestClient, product: str, pool: dict | None = None) -> dict[str, Any]:
    told = client.get("/api/v1/shelf", params={"pool_id": pool["id"]} if pool else {}).json()["told"]
    return next(x for x in told["lines"] if x["product_id"] == product)


def pour(client: TestClient, pool: dict, product: str, amount: str, unit: str, **more: Any) -> dict[str, Any]:
    body = {
        "id": str(uuid7()),
        "at": NOW.isoformat(),
        "product_id": product,
        "amount": amount,
        "unit": unit,
    } | more
    answer = client.post(f"/api/v1/pools/{pool['id']}/doses", json=body)
    assert answer.status_code == 201, answer.text
    return answer.json()


def plan_of(client: TestClient, pool: dict, **values: str) -> dict[str, Any]:
    return client.post(
        f"/api/v1/pools/{pool['id']}/plan-previews", json={"readings": readings(**values)}
    ).json()["plan"]


def test_products_at_hand_are_chosen_priced_and_said_to_be_short(client: TestClient, pool: dict) -> None:
    put(
        client,
        product_id="bleach-6",
        stock="20",
        stock_unit="fl_oz",
        pack="1",
        pack_unit="gal",
        price="$4.00",
    )
    put(
        client, product_id="muriatic-31.45", stock="2", stock_unit="gal", pack="1", pack_unit="gal", price="8"
    )
    put(client, product_id="dry-acid-93.2")
    plan = plan_of(client, pool, **LOW)
    chlorine = next(s for s in plan["steps"] if s["role"] == "raise_fc")
    acid = next(s for s in plan["steps"] if s["role"] == "lower_ph")
    assert chlorine["product_id"] == "bleach-6" and "You have 20 fl oz; buy" in chlorine["warnings"][0]
    assert acid["cost"].startswith("$") and "$" in plan["summary"] and acid["warnings"] == []
    assert "dry-acid-93.2" not in [
        a["product_id"] for a in acid["alternatives"]
    ]  # plaster: refused even at hand
    url = f"/api/v1/pools/{pool['id']}/plan-previews"
    refused = client.post(
        url, json={"readings": readings(**LOW), "products": {"lower_ph": {"product_id": "dry-acid-93.2"}}}
    ).json()
    assert (
        refused["problems"][0]["field"] == "products.lower_ph"
        and "sulfate" in refused["problems"][0]["message"]
    )
    assert (
        next(s for s in refused["plan"]["steps"] if s["role"] == "lower_ph")["product_id"] == "muriatic-31.45"
    )


@pytest.mark.parametrize(
    ("item", "field", "code"),
    [
        ({"product_id": "salt", "price": "8"}, "pack", "price_without_pack"), ({"product_id": "salt", "price": "lots", "pack": "1", "pack_unit": "lb"}, "price", "not_a_number"),
        ({"product_id": "bleach-6"}, "product_id", "twice"), ({"product_id": "liquid-chlorine-10", "strength": "40"}, "strength", "strength"),
        ({"product_id": "salt", "stock": "2", "stock_unit": "fl_oz"}, "stock_unit", "wrong_unit"), ({"product_id": "salt", "stock": "some", "stock_unit": "lb"}, "stock", "not_a_number"),
        ({"product_id": "salt", "minimum": "-3", "minimum_unit": "lb"}, "minimum", "out_of_range"), ({"product_id": "brine"}, "product_id", "unknown_product"),
        ({"product_id": "liquid-chlorine-10", "bought": "2026-08-01"}, "bought", "in_future"), ({"product_id": "liquid-chlorine-10", "bought": "soon"}, "bought", "not_a_date"),
        ({"product_id": "liquid-chlorine-10", "kept": "400"}, "kept", "out_of_range"), ({"product_id": "clarifier", "strength": "40"}, "strength", "by_label"),
        ({"product_id": "salt", "rate": "4", "rate_unit": "lb"}, "rate", "not_by_label"), ({"product_id": "enzyme", "rate": "4", "rate_unit": "lb"}, "rate_unit", "wrong_unit"),
        ({"product_id": "salt", "price": "20000", "pack": "1", "pack_unit": "lb"}, "price", "out_of_range"),
    ],
)  # fmt: skip
def test_what_is_wrong_is_named_at_its_field_and_nothing_is_listed(
    client: TestClient, pool: dict, item: dict, field: str, code: str
) -> None:
    put(client, product_id="bleach-6")
    problem(client.post("/api/v1/shelf/items", json={"id": str(uuid7()), **item}), 422, code, field)
    assert [x["typed"]["product_id"] for x in client.get("/api/v1/shelf").json()["items"]] == ["bleach-6"]


def test_doses_draw_on_the_stock_and_undoing_them_gives_it_back(
    client: TestClient, pool: dict, clock: Clock
) -> None:
    item = put(
        client,
        product_id="muriatic-31.45",
        stock="1",
        stock_unit="gal",
        minimum="40",
        minimum_unit="fl_oz",
        pack="1",
        pack_unit="gal",
        price="9.00",
    )
    assert (line(client, "muriatic-31.45")["left"], line(client, "muriatic-31.45")["level"]) == (
        "1 gal",
        "fine",
    )
    pour(
        client, pool, "muriatic-31.45", "20", "fl_oz", at=(NOW - timedelta(days=1)).isoformat()
    )  # before the count: counted already
    assert line(client, "muriatic-31.45")["left"] == "1 gal"
    clock.now = NOW + timedelta(hours=1)
    dose = pour(client, pool, "muriatic-31.45", "3", "qt", at=clock.now.isoformat())
    told = line(client, "muriatic-31.45")
    assert (told["left"], told["level"], told["word"]) == ("32 fl oz", "act", "buy: under your minimum")
    assert told["used"].startswith(
        "¾ gal 16 fl oz, $8.16"
    )  # 112 of the 116: 96 and 20 fl oz of a 128 fl oz gallon at $9.00
    url = f"/api/v1/events/{dose['id']}"
    assert client.delete(url).status_code == 200 and line(client, "muriatic-31.45")["left"] == "1 gal"
    assert (
        client.post(f"{url}/restore").status_code == 200
        and line(client, "muriatic-31.45")["left"] == "32 fl oz"
    )
    bought = client.post(f"/api/v1/shelf/items/{item['id']}/restock", json={"packs": 2, "revision": 1})
    assert bought.status_code == 200 and line(client, "muriatic-31.45")["left"] == "2 ¼ gal"
    problem(
        client.post(f"/api/v1/shelf/items/{item['id']}/restock", json={"packs": 2, "revision": 1}),
        409,
        "changed_meanwhile",
    )  # sent twice, added once
    problem(
        client.put(
            f"/api/v1/shelf/items/{item['id']}", json={**item["typed"], "product_id": "salt", "revision": 2}
        ),
        422,
        "fixed",
        "product_id",
    )
    # a new count starts again; an empty one leaves the last
    body = {**item["typed"], "stock": "", "price": "10", "revision": 2}
    assert (
        client.put(f"/api/v1/shelf/items/{item['id']}", json=body).status_code == 200
        and line(client, "muriatic-31.45")["left"] == "2 ¼ gal"
    )
    recount = client.put(f"/api/v1/shelf/items/{item['id']}", json={**body, "stock": "none", "revision": 3})
    assert recount.status_code == 200 and line(client, "muriatic-31.45")["word"] == "buy: none left"
    assert client.get("/api/v1/shelf").json()["told"]["headline"] == "Buy acid."
    pour(client, pool, "muriatic-31.45", "3", "qt", at=clock.now.isoformat())
    assert line(client, "muriatic-31.45")["left"] == "none"  # never less


def test_a_phone_whose_clock_is_behind_still_draws(client: TestClient, pool: dict, clock: Clock) -> None:
    put(client, product_id="salt", stock="80", stock_unit="lb")
    clock.now = NOW + timedelta(minutes=1)
    pour(
        client, pool, "salt", "40", "lb", at=(NOW - timedelta(minutes=3)).isoformat()
    )  # logged after the count, dated before it
    assert line(client, "salt")["left"] == "1 bag of 40 lb"
    pour(
        client, pool, "salt", "40", "lb", at=(NOW - timedelta(minutes=30)).isoformat()
    )  # poured before it was counted
    assert line(client, "salt")["left"] == "1 bag of 40 lb"


def test_a_tick_draws_and_the_next_plan_says_buy(client: TestClient, pool: dict, clock: Clock) -> None:
    put(client, product_id="liquid-chlorine-12.5", stock="60", stock_unit="fl_oz")
    test = {
        "id": str(uuid7()),
        "at": NOW.isoformat(),
        "readings": readings(fc="1", ph="7.5", ta="100", ch="280", cya="40"),
    }
    event = client.post(f"/api/v1/pools/{pool['id']}/plans", json={"id": str(uuid7()), "test": test})
    assert event.status_code == 201, event.text
    plan = client.get(f"/api/v1/pools/{pool['id']}/today").json()["sheets"][0]
    step = next(s for s in plan["steps"] if s["plan"]["role"] == "raise_fc")
    assert step["plan"]["warnings"] == []
    clock.now = NOW + timedelta(minutes=30)
    assert (
        client.post(
            f"/api/v1/sheets/{plan['id']}/steps/{step['key']}/tick",
            json={"id": str(uuid7()), "at": clock.now.isoformat()},
        ).status_code
        == 201
    )
    again = next(
        s
        for s in plan_of(client, pool, fc="1", ph="7.5", ta="100", ch="280", cya="40")["steps"]
        if s["role"] == "raise_fc"
    )
    assert "buy" in again["warnings"][0]


def ml(step: dict) -> float:
    amount = step["amount"]
    return amount["value"] * {"fl_oz": 29.57, "gal": 3785.4}[amount["unit"]]


def test_liquid_chlorine_is_dosed_at_the_strength_it_has_today(client: TestClient, pool: dict) -> None:
    item = put(
        client,
        product_id="liquid-chlorine-12.5",
        bought="2026-07-14",
        pack="1",
        pack_unit="gal",
        stock="1",
        stock_unit="gal",
    )
    fresh = plan_of(client, pool, fc="1", cya="40")["steps"][0]
    old = client.put(
        f"/api/v1/shelf/items/{item['id']}",
        json={**item["typed"], "bought": "2026-05-15", "kept": "35", "kept_unit": "c", "revision": 1},
    )
    assert old.status_code == 200
    # two months in the heat: past its half-life of 49 days (White, from memory)
    assert line(client, "liquid-chlorine-12.5")["strength"] == "7.1 % today, 12.5 % when bought"
    aged = plan_of(client, pool, fc="1", cya="40")["steps"][0]
    assert "7.1" in aged["title"] and ml(aged) > 1.5 * ml(fresh)
    assert client.post(f"/api/v1/shelf/items/{item['id']}/restock", json={"revision": 2}).status_code == 200
    assert line(client, "liquid-chlorine-12.5")["strength"] == "12.5 % today, 12.5 % when bought"


def test_labels_are_scaled_to_the_pool(client: TestClient, pool: dict) -> None:
    """Copper algaecide about 6 fl oz, phosphate remover about 8 per 10,000 gal (common practice): 9 and 12
    fl oz in 15,000 gal.
    """
    put(client, product_id="algaecide-copper")
    put(client, product_id="phosphate-remover", rate="10", rate_unit="fl_oz")
    put(client, product_id="clarifier")
    usual, own, none = (
        line(client, p, pool)["label"] for p in ("algaecide-copper", "phosphate-remover", "clarifier")
    )
    assert (
        usual["text"] == "9 fl oz"
        and not usual["own"]
        and usual["note"].startswith("Read its label first. Commonly 6 fl oz per 10,000 gal")
    )
    assert (
        own["text"] == "15 fl oz"
        and own["own"]
        and "not computed" in own["note"]
        and own["note"].startswith("Label first: its own rate, 10 fl oz")
    )
    put(client, product_id="enzyme", rate="250", rate_unit="ml", rate_per="l")
    metric = line(client, "enzyme", pool)["label"]  # 250 mL per 10,000 L is a quart per 10,000 gal
    assert metric["text"] == "48 fl oz" and "its own rate, 32 fl oz per 10,000 gal" in metric["note"]
    assert none["text"] == "" and "Type its label's rate" in none["note"]
    assert line(client, "algaecide-copper")["label"] is None  # no pool in view


def test_storage_is_planned_for_what_is_listed_and_items_come_back(client: TestClient) -> None:
    for product in ("muriatic-31.45", "liquid-chlorine-12.5", "salt"):
        item = put(client, product_id=product)
    told = client.get("/api/v1/shelf").json()["told"]
    assert len(told["places"]) == 2 and [a["harm"] for a in told["apart"]] == ["chlorine gas"]
    url = f"/api/v1/shelf/items/{item['id']}"
    assert client.delete(url).json()["removed"] and len(client.get("/api/v1/shelf").json()["items"]) == 2
    put(client, product_id="salt")
    problem(client.post(f"{url}/restore"), 409, "listed_again")
    other = client.get("/api/v1/shelf").json()["items"][0]["id"]
    client.delete(f"/api/v1/shelf/items/{other}")
    assert client.post(f"/api/v1/shelf/items/{other}/restore").json()["removed"] is False
    problem(client.delete(f"/api/v1/shelf/items/{uuid7()}"), 404, "not_found")


def test_doses_cost_by_month_and_season_at_the_shelf_s_prices(client: TestClient, pool: dict) -> None:
    # By hand: 1 gal of liquid at $5.50 in July, half a gallon in March; a gallon in December was last season's.
    url = f"/api/v1/pools/{pool['id']}"
    assert client.get(f"{url}/costs").json()["months"] == []
    put(client, product_id="liquid-chlorine-12.5", pack="1", pack_unit="gal", price="5.50")
    for at, product, amount, unit in (
        ("2026-07-02T18:00:00Z", "liquid-chlorine-12.5", "1", "gal"),
        ("2026-03-05T18:00:00Z", "liquid-chlorine-12.5", "0.5", "gal"),
        ("2025-12-20T18:00:00Z", "liquid-chlorine-12.5", "1", "gal"),
        ("2025-06-20T18:00:00Z", "liquid-chlorine-12.5", "1", "gal"),  # more than a year ago
        ("2026-07-03T18:00:00Z", "soda-ash", "8", "oz"),
    ):
        pour(client, pool, product, amount, unit, at=at)
    costs = client.get(f"{url}/costs").json()
    assert (costs["this_month"], costs["season"], costs["season_since"]) == ("$5.50", "$8.25", "1 Jan")
    by_month = {m["month"]: (m["cost"], m["share"]) for m in costs["months"]}
    assert len(by_month) == 12 and next(iter(by_month)) == "Jul 2026" and list(by_month)[-1] == "Aug 2025"
    assert by_month["Mar 2026"] == ("$2.75", 0.5) and by_month["Dec 2025"] == ("$5.50", 1.0)
    assert by_month["May 2026"] == ("$0.00", 0.0)
    assert costs["unpriced"] == ["soda ash"]


def supply(client: TestClient, product: str) -> dict[str, Any]:
    told = client.get("/api/v1/shelf").json()["told"]["supplies"]
    return next(x for x in told if x["product_id"] == product)


def test_strips_and_parts_are_counted_and_age(client: TestClient, pool: dict, clock: Clock) -> None:
    """Strips keep about a year (common practice): the account's first pool is told, and a new box ends it."""

    def reminder() -> dict[str, Any]:
        tasks = client.get(f"/api/v1/pools/{pool['id']}/care").json()["tasks"]
        return next(t for t in tasks if t["rule_id"] == "reagents")

    assert reminder()["state"] == "none"
    strips = put(client, product_id="test-strips", stock="1", minimum="1", bought="2025-06-20")
    rings = put(client, product_id="o-ring", stock="2", minimum="2")
    assert (supply(client, "test-strips")["level"], supply(client, "test-strips")["word"]) == (
        "act",
        "too old: replace",
    )
    assert supply(client, "o-ring") | {"id": ""} == {
        "id": "", "product_id": "o-ring", "name": "O-ring", "level": "fine", "word": "enough", "left": "2", "bought": "",
    }  # fmt: skip
    assert reminder()["state"] == "overdue" and "20 Jun 2026" in reminder()["why"]
    bought = client.post(f"/api/v1/shelf/items/{strips['id']}/restock", json={"packs": 1, "revision": 1})
    assert bought.status_code == 200 and supply(client, "test-strips")["left"] == "2"
    assert reminder()["state"] == "coming" and supply(client, "test-strips")["level"] == "fine"
    used = client.put(
        f"/api/v1/shelf/items/{rings['id']}", json={**rings["typed"], "stock": "1", "revision": 1}
    )
    assert used.status_code == 200 and supply(client, "o-ring")["word"] == "buy: under your minimum"
    for body, field in (
        ({"stock": "many"}, "stock"),
        ({"stock": "-1"}, "stock"),
        ({"minimum": "99999"}, "minimum"),
        ({"strength": "10"}, "strength"),
        ({"bought": "2031-01-01"}, "bought"),
        ({"product_id": "o-ring"}, "product_id"),
    ):
        asked = {"id": str(uuid7()), "product_id": "cartridge"} | body
        refused = client.post("/api/v1/shelf/items", json=asked)
        assert refused.status_code == 422 and [f["field"] for f in refused.json()["fields"]] == [field], field
    # What is no chemical is never poured, planned with or stored apart.
    assert not {"o-ring", "test-strips"} & {
        x["product_id"] for x in client.get("/api/v1/shelf").json()["told"]["lines"]
    }
