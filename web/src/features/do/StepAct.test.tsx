import { fireEvent, screen } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";

import { type SheetStep } from "../../api/sheets";
import { show } from "../../test/render";
import { Countdown } from "./Countdown";
import { Pad } from "./Pad";
import { StepAct } from "./StepAct";

const guide = {
  kind: "do",
  title: "Pump off",
  question: "",
  choices: [],
  units: [],
  suggested: "",
  minutes: 0,
  until: "",
  pump: false,
  valve: "filter",
  valve_kind: "multiport",
};
const step = (part: object, more: object = {}) =>
  ({
    key: "k",
    state: "open",
    ends_at: null,
    plan: null,
    guide: { ...guide, ...part },
    ...more,
  }) as unknown as SheetStep;

function act(of: SheetStep, more: Partial<Parameters<typeof StepAct>[0]> = {}) {
  const say = vi.fn();
  const shown = show(
    <StepAct
      step={of}
      running={false}
      error={undefined}
      typed={{}}
      held={false}
      decide={vi.fn()}
      pour={vi.fn()}
      {...more}
      say={say}
    />,
  );
  return { say, ...shown };
}

describe("the act of a step", () => {
  it.each([
    ["a thing to do", step({}), "Done", { key: "k", verb: "answer", value: "done" }],
    [
      "a timer not started",
      step({ kind: "timer", minutes: 0.5, until: "the water runs clear" }),
      "Start 30 seconds",
      { key: "k", verb: "timer" },
    ],
    [
      "a choice",
      step({
        kind: "look",
        choices: [
          ["zero", "at zero"],
          ["stuck", "it sticks"],
        ],
      }),
      "it sticks",
      { key: "k", verb: "answer", value: "stuck" },
    ],
  ])("of %s is one press", (_, of, name, word) => {
    const { say } = act(of);
    fireEvent.click(screen.getByRole("button", { name }));
    expect(say).toHaveBeenCalledExactlyOnceWith(word);
  });

  it("of a running timer is what ends it", () => {
    const { say } = act(step({ kind: "timer", minutes: 1.5, until: "the glass is clear" }), {
      running: true,
    });
    fireEvent.click(screen.getByRole("button", { name: "Now: the glass is clear" }));
    expect(say).toHaveBeenCalledExactlyOnceWith({ key: "k", verb: "answer", value: "done" });
  });

  it("of a number takes what the server suggests, and keeps what was typed when it comes back", () => {
    const volume = step({
      kind: "look",
      question: "Water that went",
      suggested: "120 gal",
      units: [
        ["gal", "gal"],
        ["l", "L"],
      ],
    });
    const typed = {};
    const first = act(volume, { typed });
    expect(screen.getByLabelText("Water that went")).toHaveProperty("value", "120");
    fireEvent.change(screen.getByLabelText("Water that went"), { target: { value: "a lot" } });
    fireEvent.click(screen.getByRole("button", { name: /a lot gal/ }));
    expect(first.say).toHaveBeenCalledWith({ key: "k", verb: "answer", value: "a lot gal" });
    first.unmount();
    act(volume, { typed, error: "“a lot” is not a number." });
    expect(screen.getByLabelText("Water that went")).toHaveProperty("value", "a lot");
    expect(screen.getByText("“a lot” is not a number.")).toBeTruthy();
  });

  it("that is held back can be told, but is not asked for", () => {
    const plan = { kind: "add", amount: { text: "18 fl oz" } };
    act(step({}, { plan, guide: null }), { held: true });
    expect(screen.getByRole("button", { name: "Poured 18 fl oz all the same" })).toBeTruthy();
  });
});

describe("its drawing", () => {
  it("says in words where the valve stands and whether the pump runs", () => {
    show(<Pad valve="rinse" pump kind="multiport" />);
    expect(screen.getByRole("img", { name: "Valve at rinse, pump on" })).toBeTruthy();
    show(<Pad valve="filter" pump={false} kind="" />);
    expect(screen.getByRole("img", { name: "pump off" })).toBeTruthy();
  });

  it("draws a push-pull's handle up for backwash and down for the filter", () => {
    const height = (valve: string) => {
      const { container, unmount } = show(<Pad valve={valve} pump kind="push_pull" />);
      const stem = container.querySelector("path")!.getAttribute("d")!;
      unmount();
      return Number(/M160 (\d+)V/.exec(stem)![1]);
    };
    expect(height("backwash")).toBeLessThan(height("filter"));
  });

  it.each([
    [90_000, "1:30", "left"],
    [-5_000, "+0:05", "over"],
  ])("counts from the mark's own instant: %d ms away is %s", (away, text, word) => {
    const now = Date.now();
    vi.spyOn(Date, "now").mockReturnValue(now);
    show(<Countdown until={new Date(now + away).toISOString()} over="over" />);
    expect(screen.getByRole("timer").textContent).toBe(text);
    expect(screen.getByText(word)).toBeTruthy();
    vi.restoreAllMocks();
  });
});

describe("an answer in words of one's own", () => {
  const asks = { kind: "look", question: "Where does it lie now?", text: true, part: "pump" };

  it("offers the place it had, and says another", () => {
    const { say } = act(step({ ...asks, suggested: "cellar" }));
    const field = screen.getByLabelText("Where does it lie now?");
    expect((field as HTMLInputElement).value).toBe("cellar");
    fireEvent.change(field, { target: { value: "  shed, top shelf " } });
    fireEvent.click(screen.getByRole("button", { name: "Done, it lies there" }));
    expect(say).toHaveBeenCalledWith({ key: "k", verb: "answer", value: "shed, top shelf" });
  });

  it("asks for something, and keeps what was refused", () => {
    const typed = { k: "with the acid" };
    act(step(asks), { typed, error: "Not beside chemicals." });
    expect((screen.getByLabelText("Where does it lie now?") as HTMLInputElement).value).toBe("with the acid");
    expect(screen.getByText("Not beside chemicals.")).toBeTruthy();
    fireEvent.change(screen.getByLabelText("Where does it lie now?"), { target: { value: " " } });
    expect((screen.getByRole("button", { name: "Done, it lies there" }) as HTMLButtonElement).disabled).toBe(
      true,
    );
  });
});
