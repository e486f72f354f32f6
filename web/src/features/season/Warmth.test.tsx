import { screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";

import { type Season } from "../../api/seasons";
import { show } from "../../test/render";
import { Picture } from "./Warmth";

const day = (n: number) => new Date(Date.UTC(2026, 6, 1 + n)).toISOString().slice(0, 10);
const point = (n: number, water: number, how: string) => ({ day: day(n), water, low: 40, how });
const SEASON = {
  kind: "closing",
  today: day(60),
  chosen: day(100),
  limits: [
    { value: 60, label: "algae begin" },
    { value: 70, label: "green" },
  ],
  warmth: Array.from({ length: 200 }, (_, n) =>
    point(n, 80 - n / 5, n % 9 === 0 && n < 60 ? "read" : n < 67 ? "weather" : "last_year"),
  ),
} as unknown as Season;

describe("the water's warmth", () => {
  it("is told in words too, with its day", () => {
    show(<Picture season={SEASON} width={800} />);
    const told = screen.getByRole("img").getAttribute("aria-label");
    expect(told).toContain("today 68°");
    expect(told).toContain("60°, algae begin; 70°, green");
    expect(told).toContain(`To close on ${day(100)}`);
  });

  it("draws what is known solid and what is like last year broken, joined", () => {
    const { container } = show(<Picture season={SEASON} width={800} />);
    const [like, known] = [...container.querySelectorAll("path")].map((p) => p.getAttribute("d")!);
    expect(container.querySelectorAll("path")[0]!.getAttribute("stroke-dasharray")).toBeTruthy();
    expect(like!.slice(1).split("L")[0]).toBe(known!.split("L").at(-1)); // it goes on where the other ends
    expect(container.querySelectorAll("circle")).toHaveLength(7);
  });
});
