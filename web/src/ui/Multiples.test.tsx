import { fireEvent, screen } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";

import { type Schemas } from "../api/client";
import { show } from "../test/render";
import { Multiples } from "./Multiples";

const DAY = 86_400_000;
const at = (day: number) => new Date(Date.UTC(2026, 6, 1) + day * DAY).toISOString();
const reading = (day: number, value: number, level: string) => ({
  at: at(day),
  value,
  low: value - 0.2,
  high: value + 0.2,
  method: "drops",
  level,
});
const ph = {
  measure: "ph",
  label: "pH",
  unit: "",
  decimals: 1,
  scale_low: 6.8,
  scale_high: 8.4,
  band_low: 7.2,
  band_high: 7.8,
  readings: [reading(2, 7.5, "fine"), reading(4, 8.2, "act")],
  estimate: [
    [
      { at: at(2), value: 7.5, low: 7.4, high: 7.6 },
      { at: at(4), value: 7.7, low: 7.4, high: 8.0 },
    ],
    [
      { at: at(7), value: 7.6, low: 7.4, high: 7.8 },
      { at: at(8), value: 7.6, low: 7.4, high: 7.8 },
    ],
  ],
  ahead: [
    { at: at(8), value: 7.6, low: 7.4, high: 7.8 },
    { at: at(9.5), value: 7.8, low: 7.4, high: 8.2 },
  ],
  out: [{ start: at(3), end: at(4) }],
} as unknown as Schemas["Series"];
const marks = [
  { at: at(3), kind: "dose", title: "Muriatic acid, 12 fl oz" },
  { at: at(40), kind: "dose", title: "Later" },
] as unknown as Schemas["Mark"][];
const [from, to] = [Date.parse(at(0)), Date.parse(at(10))];

function drawn(setWindow = vi.fn()) {
  const { container } = show(
    <Multiples series={[ph]} marks={marks} window={[from, to]} setWindow={setWindow} zone="UTC" />,
  );
  return { setWindow, container, graphs: screen.getByRole("group", { name: /Graphs/ }) };
}

describe("graphs on one time axis", () => {
  it("places readings by time and value, one out of its band filled", () => {
    const { container } = drawn();
    const [fine, high] = [...container.querySelectorAll("circle")];
    const x = (mark: Element) => Number(mark.getAttribute("cx"));
    const y = (mark: Element) => Number(mark.getAttribute("cy"));
    expect(y(high!)).toBeLessThan(y(fine!)); // higher is up
    expect(high!.getAttribute("fill")).not.toBe(fine!.getAttribute("fill"));
    // A fifth of the window lies between days 2 and 4: as far apart as day 0 and day 2.
    const left = 2 * x(fine!) - x(high!);
    expect(x(high!) - x(fine!)).toBeCloseTo(x(fine!) - left);
    expect(high!.textContent).toContain("8.2");
  });

  it("does not draw the estimate through a stretch that nobody tested", () => {
    const { container } = drawn();
    const paths = [...container.querySelectorAll("path")].map((p) => p.getAttribute("d") ?? "");
    expect(paths.filter((d) => d.split("M").length - 1 === 2)).toHaveLength(2); // its span and its line, two runs each
  });

  it("draws what is foretold as its own band from now on, and the moment that parts them", () => {
    const { container } = show(
      <Multiples series={[ph]} marks={[]} window={[from, to]} setWindow={vi.fn()} zone="UTC" now={at(8)} />,
    );
    const titles = [...container.querySelectorAll("title")].map((t) => t.textContent);
    expect(titles).toContain("Now");
    const band = container.querySelector('path[fill="url(#to-come)"]')!.getAttribute("d")!;
    const last = [...container.querySelectorAll("circle")].pop()!; // day 4
    const begins = Number(band.slice(1).split(" ")[0]);
    expect(begins).toBeGreaterThan(Number(last.getAttribute("cx")));
    expect(band.endsWith("Z")).toBe(true);
  });

  it("draws many readings small, and many marks at the axis alone", () => {
    const many = Array.from({ length: 400 }, (_, i) => reading(2 + i / 100, 7.5, "fine"));
    const doses = Array.from({ length: 300 }, (_, i) => ({
      at: at(2 + i / 100),
      kind: "dose",
      title: `Dose ${i}`,
    }));
    const { container } = show(
      <Multiples
        series={[{ ...ph, readings: many }]}
        marks={doses}
        window={[from, to]}
        setWindow={vi.fn()}
        zone="UTC"
      />,
    );
    expect(Number(container.querySelector("circle")!.getAttribute("r"))).toBeLessThan(2);
    expect([...container.querySelectorAll("title")].filter((t) => t.textContent === "Dose 7")).toHaveLength(
      1,
    );
  });

  it("shows the marks of its window alone, twice: as a line and at the axis", () => {
    const { container } = drawn();
    const titles = [...container.querySelectorAll("title")].map((t) => t.textContent);
    expect(titles.filter((t) => t?.startsWith("Muriatic"))).toHaveLength(2);
    expect(titles).not.toContain("Later");
  });

  it.each([
    ["ArrowLeft", -2, -2],
    ["ArrowRight", 2, 2],
    ["+", 2, -2],
    ["-", -3, 3],
  ])("%s moves the window's ends by %d and %d days", (key, start, end) => {
    const { graphs, setWindow } = drawn();
    fireEvent.keyDown(graphs, { key });
    const [[first, last]] = setWindow.mock.calls[0]!;
    expect((first - from) / DAY).toBeCloseTo(start);
    expect((last - to) / DAY).toBeCloseTo(end);
  });

  it("leaves other keys to the page", () => {
    const { graphs, setWindow } = drawn();
    expect(fireEvent.keyDown(graphs, { key: "Tab" })).toBe(true); // not prevented
    expect(setWindow).not.toHaveBeenCalled();
  });
});
