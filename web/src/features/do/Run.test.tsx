import { fireEvent, screen, waitFor } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";

import { type Run } from "../../api/clearup";
import { type SheetStep } from "../../api/sheets";
import { META } from "../../test/meta";
import { answering, show } from "../../test/render";
import { CheckForm } from "./CheckForm";
import { Curve } from "./Curve";
import { Criteria } from "./RunParts";

const curve: Run["curve"] = {
  points: [
    {
      at: "2026-07-14T23:00:00Z",
      fc: 0,
      kind: "read",
      label: "18:00: read 0",
      before: null,
      low: 0,
      high: 0.5,
    },
    {
      at: "2026-07-15T01:30:00Z",
      fc: 16,
      kind: "poured",
      label: "20:30: 1 gal",
      before: 0,
      low: null,
      high: null,
    },
    {
      at: "2026-07-15T02:30:00Z",
      fc: 0,
      kind: "doubtful",
      label: "21:30: read 0",
      before: null,
      low: 0,
      high: 0.5,
    },
    {
      at: "2026-07-15T03:00:00Z",
      fc: 14,
      kind: "read",
      label: "22:00: read 14",
      before: null,
      low: 13.5,
      high: 14.5,
    },
  ],
  level_ppm: 16,
  level_words: "hold 16 ppm",
  most_ppm: 20,
  begins: "2026-07-14T23:00:00Z",
  ends: "2026-07-15T15:00:00Z",
  now: "2026-07-15T03:10:00Z",
  nights: [["2026-07-15T01:40:00Z", "2026-07-15T10:50:00Z"]],
  days: [["2026-07-15T17:00:00Z", "Wed 15"]],
};

describe("the curve of a run", () => {
  it("says what it draws, and leaves a doubtful reading out of its line", () => {
    const { container } = show(<Curve curve={curve} width={640} />);
    expect(
      screen.getByRole("img", { name: /hold 16 ppm; 4 readings and pours, the last: 22:00: read 14/ }),
    ).toBeTruthy();
    const line = [...container.querySelectorAll("path")].find(
      (p) => p.getAttribute("stroke-linejoin") === "round",
    )!;
    const corners = line
      .getAttribute("d")!
      .split(/[ML]| /)
      .filter(Boolean);
    expect(corners).toHaveLength(4); // read, the pour's foot and top, read: not the doubtful one
  });

  it("stands under its level where it is under it", () => {
    const { container } = show(<Curve curve={curve} width={358} />);
    const points = [...container.querySelectorAll("circle[r='4.5']")].map((c) =>
      Number(c.getAttribute("cy")),
    );
    const level = Number(
      /,([\d.]+)H/.exec(container.querySelector("path[stroke-width='3']")!.getAttribute("d")!)![1],
    );
    expect(points.at(-1)).toBeGreaterThan(level);
  });
});

describe("what ends it", () => {
  it("is told by word, met or not", () => {
    const run = {
      criteria: [{ id: "cc", label: "CC", met: true, words: "0.0 ppm" }],
      over: false,
    } as unknown as Run;
    show(<Criteria run={run} />);
    expect(screen.getByText("It is over when")).toBeTruthy();
    expect(screen.getByText("met")).toBeTruthy();
  });
});

describe("a check typed at the pool", () => {
  const step = { key: "check:2", measures: ["fc", "cc"] } as unknown as SheetStep;
  const form = () =>
    show(<CheckForm poolId="p" sheetId="s" step={step} kit="drops" meta={META} saved={vi.fn()} />);
  beforeEach(() => localStorage.clear());

  it("keeps what was typed through a reload, and sends nothing that is empty", () => {
    const first = form();
    expect(screen.getByRole("button", { name: "Type what you read" })).toHaveProperty("disabled", true);
    fireEvent.change(screen.getByLabelText("Measure fc"), { target: { value: "12.5" } });
    first.unmount();
    form();
    expect(screen.getByLabelText("Measure fc")).toHaveProperty("value", "12.5");
    expect(screen.getByRole("button", { name: /FC 12.5/ })).toHaveProperty("disabled", false);
  });

  it("tells a wrong reading at its field and keeps it", async () => {
    answering([
      422,
      {
        code: "invalid_input",
        detail: "no",
        fields: [{ field: "readings.fc", code: "not_a_number", message: "“lots” is not a number." }],
      },
    ]);
    form();
    fireEvent.change(screen.getByLabelText("Measure fc"), { target: { value: "lots" } });
    fireEvent.click(screen.getByRole("button", { name: /FC lots/ }));
    await waitFor(() => expect(screen.getByText("“lots” is not a number.")).toBeTruthy());
    expect(screen.getByLabelText("Measure fc")).toHaveProperty("value", "lots");
  });
});
