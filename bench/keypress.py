"""Key press to painted plan in headless Chromium, against a running ./kumpan demo, plain and with the CPU
slowed 4 times. Run: .venv/bin/python bench/keypress.py [address]"""

import statistics
import sys

from playwright.sync_api import Page, sync_playwright

# From the key event to the second frame after the plan's text changed.
WATCH = """() => { window.took = null; let began = null;
  document.addEventListener('keydown', () => { began = performance.now(); window.took = null; }, true);
  new MutationObserver(() => { if (began !== null) { const b = began;
    requestAnimationFrame(() => requestAnimationFrame(() => { window.took = performance.now() - b; })); } })
    .observe(document.querySelector('main'), {subtree: true, characterData: true, childList: true}); }"""


def times_ms(page: Page, runs: int) -> list[float]:
    found = []
    for i in range(runs):
        page.locator("#reading-fc").focus()
        page.keyboard.press("Backspace")
        page.wait_for_timeout(250)
        with page.expect_response("**/plan-previews"):
            page.keyboard.press(str(1 + i % 7))
        page.wait_for_timeout(250)
        found.append(page.evaluate("window.took"))
    return found


def main() -> None:
    url = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8420"
    with sync_playwright() as p:
        page = p.chromium.launch(executable_path="/usr/bin/chromium").new_page(
            viewport={"width": 1280, "height": 800}
        )
        page.goto(f"{url}/bench")
        for name, value in (
            ("ph", "7.9"),
            ("ta", "95"),
            ("ch", "280"),
            ("cya", "65"),
            ("salt", "2600"),
            ("fc", "1"),
        ):
            page.locator(f"#reading-{name}").fill(value)
        page.wait_for_timeout(500)
        page.evaluate(WATCH)
        plain = statistics.median(times_ms(page, 20))
        page.context.new_cdp_session(page).send("Emulation.setCPUThrottlingRate", {"rate": 4})
        slow = statistics.median(times_ms(page, 12))
    print(
        f"key press to painted plan: {plain:.0f} ms median; CPU slowed 4 times: {slow:.0f} ms; ratio"
        f" {slow / plain:.1f}"
    )


if __name__ == "__main__":
    main()
