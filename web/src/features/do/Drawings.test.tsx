import { screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";

import { show } from "../../test/render";
import { Drawing } from "./Drawings";

describe("a guide's drawings", () => {
  it("draw the bath as the step leaves it, the terminals dry", () => {
    show(<Drawing draws="bath" at="acid" />);
    expect(screen.getByRole("img", { name: "Acid is poured into the water" })).toBeTruthy();
    show(<Drawing draws="bath" at="fizz" />);
    expect(screen.getByText("terminals dry")).toBeTruthy();
    show(<Drawing draws="plates" at="look" />);
    expect(screen.getByRole("img", { name: /^Plates seen against the light/ })).toBeTruthy();
  });
});
