import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";

import { type Schemas } from "../../api/client";
import { answering, show } from "../../test/render";
import { EntryForm } from "./EntryForm";

const kind = {
  id: "backwash",
  label: "Backwash",
  fields: [
    {
      id: "minutes",
      label: "Ran",
      kind: "number",
      choices: [],
      units: [{ id: "min", label: "min" }],
      past: true,
    },
    {
      id: "lost",
      label: "Water lost",
      kind: "number",
      choices: [],
      units: [{ id: "gal", label: "gal" }],
      past: true,
    },
  ],
} as unknown as Schemas["KindMeta"];
const usual = {
  text: "3 min, 180 gal lost",
  details: { minutes: { text: "3", unit: "min" }, lost: { text: "180", unit: "gal" } },
};
const entry = { id: "e", kind: "backwash", title: "Backwash", detail: "3 min", revision: 1 };

describe("an entry of the log", () => {
  it("is written again as last time in one tap", async () => {
    const asked = answering([201, entry]);
    const saved = vi.fn();
    show(<EntryForm kind={kind} poolId="p" usual={usual} close={() => undefined} saved={saved} />);
    fireEvent.click(screen.getByRole("button", { name: /as last time: 3 min/ }));
    fireEvent.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() => expect(saved).toHaveBeenCalled());
    expect(asked[0]).toMatchObject({ method: "POST", path: "/api/v1/pools/p/entries" });
    expect(asked[0]!.body.details).toEqual(usual.details);
    expect(asked[0]!.body.at).toMatch(/^\d{4}-/); // the device's own instant
  });

  it("says what is wrong at its field, loses nothing, and tries again under the same id", async () => {
    const wrong = {
      code: "not_a_number",
      detail: "Check the field.",
      fields: [{ field: "details.minutes", code: "not_a_number", message: "“a lot” is not a number." }],
    };
    const asked = answering([422, wrong], [201, entry]);
    const close = vi.fn();
    show(<EntryForm kind={kind} poolId="p" close={close} />);
    const ran = screen.getByLabelText("Ran");
    fireEvent.change(ran, { target: { value: "a lot" } });
    fireEvent.click(screen.getByRole("button", { name: "Save" }));
    expect((await screen.findAllByText("“a lot” is not a number.")).length).toBeGreaterThan(0);
    expect(ran).toHaveProperty("value", "a lot");
    expect(close).not.toHaveBeenCalled();
    fireEvent.change(ran, { target: { value: "3" } });
    fireEvent.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() => expect(close).toHaveBeenCalled());
    expect(asked[1]!.body.id).toBe(asked[0]!.body.id);
  });

  it("is corrected at the revision it was opened at", async () => {
    const asked = answering([200, entry]);
    const event = { ...entry, revision: 4, details: usual.details, note: "", local: "2026-07-14T07:15" };
    const close = vi.fn();
    show(<EntryForm kind={kind} poolId="p" event={event as never} close={close} />);
    expect(screen.getByRole("heading", { name: "Correct: backwash" })).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() => expect(close).toHaveBeenCalled());
    expect(asked[0]).toMatchObject({ method: "PUT", path: "/api/v1/entries/e", body: { revision: 4 } });
  });
});
