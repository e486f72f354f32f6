import { fireEvent, screen } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";

import { show } from "../../test/render";
import { Picks } from "./Picks";

describe("a look with several answers", () => {
  it("is all well in one tap, or names each that is not", () => {
    const answer = vi.fn();
    const guide = {
      question: "What do you see?",
      choices: [
        ["fine", "All as it should be"],
        ["low", "Level low"],
        ["algae", "Green"],
      ],
    } as unknown as Parameters<typeof Picks>[0]["guide"];
    show(<Picks guide={guide} answer={answer} />);
    fireEvent.click(screen.getByRole("button", { name: "All as it should be" }));
    expect(answer).toHaveBeenLastCalledWith("fine");
    fireEvent.click(screen.getByRole("button", { name: "Level low" }));
    fireEvent.click(screen.getByRole("button", { name: "Green" }));
    fireEvent.click(screen.getByRole("button", { name: "Level low" }));
    expect(screen.getByRole("button", { name: "Green" }).getAttribute("aria-pressed")).toBe("true");
    fireEvent.click(screen.getByRole("button", { name: "Note this" }));
    expect(answer).toHaveBeenLastCalledWith("algae");
  });
});
