import { fireEvent, screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";

import { show } from "../test/render";
import { Then } from "./Then";

const later = [
  { clock: "Wed 09:00", sentence: "Tomorrow, if calcium reads under 200: 6 to 18 lb of calcium." },
  { clock: "Tue 21 Jul 09:00", sentence: "In a week, if stabilizer reads under 30: up to 20 oz." },
];

describe("what follows a plan", () => {
  it("stands folded, opens, and holds nothing to tick", () => {
    show(<Then later={later} totals={[]} />);
    expect(screen.queryByText(later[0]!.sentence)).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "show 2" }));
    later.forEach((one) => expect(screen.getByText(one.sentence)).toBeTruthy());
    expect(screen.queryByRole("checkbox")).toBeNull();
    expect(screen.getAllByRole("button").map((b) => b.textContent)).not.toContain("Done");
    fireEvent.click(screen.getByRole("button", { name: "fold" }));
    expect(screen.queryByText(later[0]!.sentence)).toBeNull();
  });

  it("says what to have at hand and what is missing of it", () => {
    show(<Then later={later} totals={[{ name: "Soda ash", amount: "1 to 2 lb", missing: "buy it." }]} />);
    expect(screen.getByText(/Soda ash: 1 to 2 lb/).textContent).toContain("buy it.");
  });

  it("is not there where nothing follows", () => {
    const { container } = show(<Then later={[]} totals={[{ name: "Acid", amount: "16 fl oz" }]} />);
    expect(container.textContent).toBe("");
  });
});
