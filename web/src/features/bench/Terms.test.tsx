import { fireEvent, screen } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";

import { type Pool } from "../../api/pools";
import { META } from "../../test/meta";
import { show } from "../../test/render";
import { Terms } from "./Terms";
import { emptyDraft } from "./useDraft";

const meta = {
  ...META,
  schools: [{ id: "flat_band", label: "flat band", reason_id: "fc_flat" }],
} as typeof META;
const pool = { school: "flat_band" } as unknown as Pool;
const terms = (part: object, change = vi.fn()) => {
  show(<Terms {...emptyDraft("drops")} {...part} change={change} meta={meta} pool={pool} />);
  return change;
};

describe("the terms of a plan on a phone", () => {
  it.each([
    [{}, "flat band, for today"],
    [{ stay: 20 }, "flat band, here 20 min, weekly, for today"],
    [{ stay: 15, visits: [3, 7] }, "flat band, here 15 min, twice a week, for today"],
    [{ holdDays: 7 }, "flat band, chlorine for a week"],
  ])("%o is one line: %s", (part, line) => {
    terms(part);
    expect(screen.getByRole("button", { name: line })).toBeTruthy();
    expect(screen.queryByLabelText("Here for")).toBeNull();
  });

  it("opens to its choices; nobody swimming is asked only where chlorine is to last", () => {
    const change = terms({ holdDays: 3 });
    fireEvent.click(screen.getByRole("button", { name: /flat band/ }));
    fireEvent.change(screen.getByLabelText("Here for"), { target: { value: "20" } });
    expect(change).toHaveBeenLastCalledWith({ stay: 20 });
    expect(screen.queryByLabelText("Again")).toBeNull(); // an owner is there
    fireEvent.click(screen.getByLabelText("nobody swims until a reading"));
    expect(change).toHaveBeenLastCalledWith({ closedPool: true });
  });

  it("ask a technician when they come again", () => {
    const change = terms({ stay: 20 });
    fireEvent.click(screen.getByRole("button", { name: /flat band/ }));
    fireEvent.change(screen.getByLabelText("Again"), { target: { value: "3,7" } });
    expect(change).toHaveBeenLastCalledWith({ visits: [3, 7] });
  });
});
