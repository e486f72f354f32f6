import { fireEvent, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";

import { show } from "../../test/render";
import { Costs } from "./Costs";

const answer = {
  this_month: "$12.00",
  season: "$90.00",
  season_since: "1 Jan",
  months: [
    { month: "Jul 2026", cost: "$12.00", share: 0.5 },
    { month: "Jun 2026", cost: "$24.00", share: 1 },
    { month: "May 2026", cost: "$0.00", share: 0 },
  ],
  unpriced: ["soda ash"],
};
const hear = (said: object) =>
  vi.stubGlobal("fetch", () =>
    Promise.resolve(new Response(JSON.stringify(said), { headers: { "content-type": "application/json" } })),
  );
afterEach(() => vi.unstubAllGlobals());

describe("what it cost", () => {
  it("says month and season, draws the months oldest first, and names what has no price", async () => {
    hear(answer);
    show(<Costs poolId="p1" />);
    const bars = await screen.findByRole("img");
    expect(bars.getAttribute("aria-label")).toBe(
      "By month: May 2026 $0.00, Jun 2026 $24.00, Jul 2026 $12.00",
    );
    const heights = [...bars.children].map((bar) => getComputedStyle(bar).height);
    expect(new Set(heights).size).toBe(3);
    expect(screen.getByText("$90.00").parentElement?.textContent).toBe("$90.00 since 1 Jan");
    expect(screen.getByText(/Not counted/).textContent).toContain("soda ash");
  });

  it("is one line on a phone, that opens", async () => {
    hear(answer);
    show(<Costs poolId="p1" folded />);
    fireEvent.click(await screen.findByRole("button", { name: "$12.00 this month, $90.00 since 1 Jan" }));
    expect(screen.getByRole("img")).toBeTruthy();
  });

  it("is nothing where nothing was poured", async () => {
    hear({ this_month: "", season: "", season_since: "1 Jan", months: [], unpriced: [] });
    const { container } = show(<Costs poolId="p1" />);
    await new Promise((done) => setTimeout(done, 20));
    expect(container.textContent).toBe("");
  });
});
