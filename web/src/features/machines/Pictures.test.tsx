import { screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";

import { type Chlorinator, type Circulation, type Filter } from "../../api/machines";
import { show } from "../../test/render";
import { Day, Pressures, TradeOff } from "./Pictures";

const point = (hours: number, percent: number) => ({ hours, percent, low: percent - 9, high: percent + 9 });

describe("the machines' pictures", () => {
  it("say setting against hours, and draw the line only where the cell can", () => {
    const cell = {
      now: { percent: 45, hours: 10 },
      advised: { percent: 60, hours: 10 },
      picture: "the line makes what is used here",
      points: [point(4, 150), point(8, 75), point(10, 60), point(24, 25)],
      least_hours: 7,
    } as unknown as Chlorinator;
    const { container } = show(<TradeOff cell={cell} width={400} />);
    const name = "Setting against hours: now 45 % for 10 h, advised 60 % for 10 h";
    expect(screen.getByRole("img", { name })).toBeTruthy();
    expect(screen.getByText("one turnover")).toBeTruthy();
    const line = [...container.querySelectorAll("path")].find(
      (p) => p.getAttribute("stroke-width") === "2.5",
    );
    expect(line!.getAttribute("d")!.split("L")).toHaveLength(3); // 8, 10 and 24 hours: at 4 it cannot
  });

  it("draw the gauge between clean and due, what was cleaned hollow", () => {
    const filter = {
      unit: "psi",
      clean: 10,
      due_at: 18,
      gauges: [
        { at: "2026-07-01T00:00:00Z", value: 17, cleaned: false },
        { at: "2026-07-02T00:00:00Z", value: 10, cleaned: true },
      ],
    } as unknown as Filter;
    const { container } = show(<Pressures filter={filter} width={400} />);
    expect(screen.getByText("clean 10")).toBeTruthy();
    expect(screen.getByText("due 18")).toBeTruthy();
    const fills = [...container.querySelectorAll("circle")].map((c) => c.getAttribute("fill"));
    expect(fills).toEqual(["currentColor", "var(--chakra-colors-paper)"]);
  });

  it("draw a night's run as two stretches of the day", () => {
    const moves = {
      asks: [{ school: "At least", hours: 8, why: "", met: true }],
      hours_now: 8,
      runs: [{ start: 22, end: 6, text: "22:00 to 06:00", why: "" }],
    } as unknown as Circulation;
    const { container } = show(<Day moves={moves} width={400} />);
    expect(screen.getByRole("img", { name: /Run it 22:00 to 06:00/ })).toBeTruthy();
    expect(container.querySelectorAll('rect[fill="currentColor"]')).toHaveLength(2);
  });
});
