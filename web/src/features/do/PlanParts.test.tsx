import { fireEvent, screen } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";

import { type Sheet, type SheetStep } from "../../api/sheets";
import { show } from "../../test/render";
import { PlanParts } from "./PlanParts";

const SHEET = { id: "s", day: "2026-10-18" } as unknown as Sheet;
const STEP = {
  key: "pump",
  state: "later",
  ready: true,
  clock: "06:00",
  day_words: "Sun 18 Oct",
  planned_on: "2026-10-18",
  measures: [],
  waits_for: [],
  photos: [],
  said_id: null,
  guide: { opens: "" },
} as unknown as SheetStep;

function parts(step: Partial<SheetStep> = {}, error?: string) {
  const say = vi.fn();
  const stay = vi.fn();
  const of = { ...STEP, ...step } as SheetStep;
  show(<PlanParts sheet={SHEET} step={of} acts ended={false} error={error} say={say} stay={stay} />);
  return { say, stay };
}

describe("a plan with days of its own", () => {
  it("says that a step may come before its day, or why not", () => {
    parts();
    expect(screen.getByText("Its day is Sun 18 Oct; it may be done now.")).toBeTruthy();
    parts({ ready: false, measures: ["fc"], clock: "Mon 06:00" });
    expect(screen.getByText(/From Mon 06:00: a test made earlier/)).toBeTruthy();
    parts({ ready: false, clock: "09:40" });
    expect(screen.getByText("Not before 09:40.")).toBeTruthy();
  });

  it("moves the step, moves all of it, and adds one's own behind it", () => {
    const { say, stay } = parts();
    fireEvent.click(screen.getByRole("button", { name: "another day for this" }));
    fireEvent.change(screen.getByLabelText("It is for"), { target: { value: "2026-10-16" } });
    fireEvent.click(screen.getByRole("button", { name: "Move" }));
    expect(say).toHaveBeenLastCalledWith({ key: "pump", verb: "move", value: "2026-10-16" });
    fireEvent.click(screen.getByRole("button", { name: "another day for all of it" }));
    expect((screen.getByLabelText("The plan is for") as HTMLInputElement).value).toBe("2026-10-18");
    fireEvent.change(screen.getByLabelText("The plan is for"), { target: { value: "2026-10-25" } });
    fireEvent.click(screen.getByRole("button", { name: "Move" }));
    expect(say).toHaveBeenLastCalledWith({ key: "", verb: "move", value: "2026-10-25" });
    fireEvent.click(screen.getByRole("button", { name: "a step of your own" }));
    fireEvent.change(screen.getByLabelText("Your step, after this one"), {
      target: { value: " Rope down " },
    });
    fireEvent.click(screen.getByRole("button", { name: "Add" }));
    expect(say).toHaveBeenLastCalledWith({ key: "pump", verb: "add", value: "Rope down" });
    expect(stay).toHaveBeenCalledTimes(3);
  });

  it("tells a refused day at its field", () => {
    parts({}, "That day is past.");
    fireEvent.click(screen.getByRole("button", { name: "another day for this" }));
    expect(screen.getByText("That day is past.")).toBeTruthy();
    expect(screen.getByLabelText("It is for").getAttribute("aria-invalid")).toBe("true");
  });

  it("leads to the page where a step is done", () => {
    parts({ guide: { opens: "clear-up" } } as Partial<SheetStep>);
    expect(screen.getByRole("link", { name: "To Clear-up" }).getAttribute("href")).toBe("/clear-up");
    expect(screen.getByRole("link", { name: "(A4)" }).getAttribute("href")).toBe(
      "/api/v1/sheets/s/paper.pdf?size=a4",
    );
  });
});
