import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";

import { type DueLine, type DueTask, type Visit } from "../api/care";
import { answering, show } from "../test/render";
import { DueLines, useDueAct } from "./Due";

const task = (more: Partial<DueTask>): DueTask => ({
  id: "t1",
  title: "Grease the O-rings",
  why: "Every 3 months; last done 1 Apr 2026.",
  late: "A dry ring draws air.",
  missed: 0,
  opens: "",
  ticks: true,
  looks: false,
  minutes: 5,
  reason_id: "care_gear",
  revision: 1,
  ...more,
});
const line = (more: Partial<DueLine>): DueLine => ({
  group: "gear",
  title: "Grease the O-rings",
  when: "3 days over",
  on: "2026-07-11",
  overdue: true,
  minutes: 5,
  harm: false,
  parts: "",
  tasks: [task({})],
  ...more,
});
const visit: Visit = {
  now: [
    line({}),
    line({
      group: "test",
      title: "Test chlorine and pH",
      tasks: [task({ id: "t2", title: "Test chlorine and pH", opens: "bench", ticks: false })],
    }),
  ],
  waits: [
    line({
      group: "safety",
      title: "Press the test button",
      tasks: [task({ id: "t4", title: "Press the test button", looks: true })],
    }),
    line({ group: "filter", title: "New sand", tasks: [task({ id: "t3", title: "New sand", missed: 2 })] }),
  ],
  minutes: 8,
  has: 60,
  bring: [],
  sentence: "",
  put_off: [["tomorrow", "2026-07-15"]],
  walk: "weekly",
  walk_label: "Weekly clean",
};

function Held() {
  const act = useDueAct("p1");
  return <DueLines visit={visit} act={act} first={visit.now[0]} />;
}
const row = (title: string) => within(screen.getByText(title).closest("li")!);

afterEach(() => vi.unstubAllGlobals());

describe("what is due", () => {
  it("says since when, why, what waiting does, and the way to where it is done", () => {
    answering([200, {}]);
    show(<Held />);
    const rings = row("Grease the O-rings");
    expect(rings.getByText("3 days over")).toBeTruthy();
    expect(rings.getByText(/last done 1 Apr 2026/)).toBeTruthy();
    expect(rings.getByText(/A dry ring draws air/)).toBeTruthy();
    expect(
      row("Test chlorine and pH").getByRole("link", { name: "Type the test" }).getAttribute("href"),
    ).toBe("/bench");
    expect(row("New sand").getByText(/Missed 2 more times/)).toBeTruthy();
    expect(row("Press the test button").getByRole("button", { name: "All well" })).toBeTruthy();
    expect(screen.getByText(/Over the 60 min there are/)).toBeTruthy();
  });

  it("is ticked once with its minutes, and taken back", async () => {
    const asked = answering([201, {}], [200, {}]);
    show(<Held />);
    fireEvent.click(row("Grease the O-rings").getByRole("button", { name: "not now" }));
    fireEvent.change(screen.getByLabelText("It took, min"), { target: { value: "7" } });
    fireEvent.click(row("Grease the O-rings").getByRole("button", { name: "Done" }));
    await screen.findByText("Grease the O-rings: done.");
    expect(asked[0]).toMatchObject({ path: "/api/v1/tasks/t1/done", body: { minutes: "7" } });
    fireEvent.click(screen.getByRole("button", { name: "undo" }));
    await waitFor(() => expect(asked).toHaveLength(2));
    expect(asked[1]).toMatchObject({ method: "DELETE", path: `/api/v1/events/${String(asked[0]!.body.id)}` });
  });

  it("is put off to a day the server named, and skipped only with a reason", async () => {
    const asked = answering([201, {}], [422, { code: "invalid_input", detail: "No.", fields: [] }]);
    show(<Held />);
    fireEvent.click(row("Grease the O-rings").getByRole("button", { name: "not now" }));
    fireEvent.click(screen.getByRole("button", { name: "tomorrow" }));
    await screen.findByText("Grease the O-rings: put off.");
    expect(asked[0]).toMatchObject({
      path: "/api/v1/tasks/t1/marks",
      body: { verb: "snooze", value: "2026-07-15" },
    });
    const skip = screen.getByRole("button", { name: "Skip" });
    expect(skip.hasAttribute("disabled")).toBe(true);
    fireEvent.change(screen.getByLabelText("Skip it this once, because"), { target: { value: "rain" } });
    fireEvent.click(skip);
    expect((await screen.findByRole("alert")).textContent).toBe("No.");
    expect((screen.getByLabelText("Skip it this once, because") as HTMLInputElement).value).toBe("rain"); // kept
  });
});
