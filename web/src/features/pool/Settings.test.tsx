import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";

import { type Meta } from "../../api/meta";
import { type Pool } from "../../api/pools";
import { answering, show } from "../../test/render";
import { Settings } from "./Settings";

const meta = {
  schools: [
    { id: "flat_band", label: "flat band", what: "One band for all.", caution: "", reason_id: "fc_flat" },
    {
      id: "public_code",
      label: "public code",
      what: "",
      caution: "Local code wins.",
      reason_id: "fc_public",
    },
  ],
  settings: [
    {
      id: "climate",
      label: "Winter",
      choices: [
        { id: "unknown", label: "I don't know", costs: "Closing is then a guess." },
        { id: "freezes", label: "Freezes in winter", costs: null },
      ],
    },
  ],
} as unknown as Meta;
const pool = {
  id: "p",
  revision: 2,
  school: "flat_band",
  settings: {
    school: "flat_band",
    answers: { climate: "unknown" },
    targets: {},
    fill: {},
    borate_allowed: true,
  },
  targets: [{ measure: "ph", label: "pH", band: "7.2 to 7.8", reason_id: "ph_band", own: null }],
} as unknown as Pool;
const save = () => fireEvent.click(screen.getByRole("button", { name: "Save" }));

describe("a pool's settings", () => {
  it("asks what the server asks, says what not knowing costs, and sends the answer", async () => {
    const asked = answering([200, pool]);
    show(<Settings pool={pool} meta={meta} />);
    expect(screen.getByText("Closing is then a guess.")).toBeTruthy();
    fireEvent.change(screen.getByLabelText("Winter"), { target: { value: "freezes" } });
    expect(screen.queryByText("Closing is then a guess.")).toBeNull();
    save();
    await waitFor(() => expect(asked).toHaveLength(1));
    expect(asked[0]!.body).toMatchObject({ answers: { climate: "freezes" }, revision: 2 });
  });

  it("says what is wrong at an own target and keeps what was typed", async () => {
    const wrong = {
      code: "invalid",
      detail: "Check the fields.",
      fields: [{ field: "targets.ph.low", code: "out_of_range", message: "pH reads 5 to 10." }],
    };
    answering([422, wrong]);
    show(<Settings pool={pool} meta={meta} />);
    fireEvent.click(screen.getByRole("button", { name: "pH: change the target" }));
    fireEvent.change(screen.getByLabelText("pH minimum"), { target: { value: "72" } });
    save();
    expect((await screen.findAllByText("pH reads 5 to 10.")).length).toBeGreaterThan(0);
    expect(screen.getByLabelText("pH minimum")).toHaveProperty("value", "72");
  });

  it("shows another school's caution before it is saved, and that its targets are not yet these", () => {
    show(<Settings pool={pool} meta={meta} />);
    fireEvent.change(screen.getByLabelText("School of chlorine"), { target: { value: "public_code" } });
    expect(screen.getByText(/Local code wins/)).toBeTruthy();
    expect(screen.getByText(/Still the saved targets/)).toBeTruthy();
  });
});
