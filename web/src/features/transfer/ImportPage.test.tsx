import { fireEvent, screen, waitFor } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";

import { type Matching } from "../../api/imports";
import { show } from "../../test/render";
import { ImportPage } from "./ImportPage";

const POOL = { id: "p", name: "Alder Yard" };
const settings = {
  columns: [{ role: "fc", unit: "ppm", remark: "" }],
  order: "month",
  decimal: "point",
  method: "drops",
  exclude: "nothing",
};
const preview = {
  pool_id: "p",
  pool: "Alder Yard",
  problem: "",
  settings,
  columns: [{ heading: "Chlorine", examples: ["3.0", "2.5"], role: "fc", unit: "ppm" }],
  rows: 12,
  encoding: "UTF-8",
  span: "May to July",
  new: 9,
  notes: 0,
  again: 2,
  empty: 0,
  before_pool: 0,
  bad: 1,
  bad_told: [{ line: 7, column: "Chlorine", message: "“lots” is not a number." }],
  doubtful: 0,
  doubtful_told: [],
  tests: [],
  remarks: [],
};
const view = {
  job: {
    id: "j",
    kind: "import",
    stage: "check",
    state: "to_confirm",
    title: "log.csv",
    message: "",
    revision: 3,
    done: 1,
    total: 1,
    can_cancel: true,
    can_take_back: false,
    pool_id: "p",
    problems: [],
  },
  preview,
  account: null,
  roles: [
    { id: "", label: "nothing", units: [] },
    {
      id: "fc",
      label: "Free chlorine",
      units: [
        { id: "ppm", label: "ppm" },
        { id: "mg", label: "mg/L" },
      ],
    },
    { id: "ph", label: "pH", units: [{ id: "", label: "" }] },
  ],
  orders: [
    { id: "month", label: "month first" },
    { id: "day", label: "day first" },
  ],
  methods: [{ id: "drops", label: "Drop kit" }],
  exclude: [
    { id: "nothing", label: "nothing" },
    { id: "bad", label: "rows that cannot be read" },
  ],
};

/** A server that holds one import and keeps what is asked of it. */
function serving(import_: object) {
  const sent: { path: string; body: Matching & { revision: number } }[] = [];
  const server = async (request: Request) => {
    const path = new URL(request.url).pathname;
    const answer = (body: unknown) =>
      new Response(JSON.stringify(body), { status: 200, headers: { "content-type": "application/json" } });
    if (request.method !== "GET") {
      sent.push({ path, body: JSON.parse((await request.text()) || "{}") });
      return answer({ ...view.job, revision: 3 + sent.length });
    }
    if (path.endsWith("/pools")) return answer([POOL]);
    return answer(path.includes("/imports/") ? import_ : []);
  };
  vi.stubGlobal("fetch", vi.fn(server));
  return sent;
}

describe("a table looked through before anything is written", () => {
  beforeEach(() => localStorage.clear());

  it("says what would come of it and what is wrong, and will not write past it", async () => {
    serving(view);
    show(<ImportPage />);
    expect(await screen.findByText("9 new tests; 1 row cannot be read.")).toBeTruthy();
    expect(screen.getByText("“lots” is not a number.")).toBeTruthy();
    expect(screen.getByText(/2 rows skipped/)).toBeTruthy();
    expect(screen.getByRole("button", { name: "Bring in 9 tests" })).toHaveProperty("disabled", true);
  });

  it("sends changes one after another, each on the revision the one before left", async () => {
    const sent = serving(view);
    show(<ImportPage />);
    fireEvent.change(await screen.findByLabelText("Leave out"), { target: { value: "bad" } });
    fireEvent.change(screen.getByLabelText("Dates are written"), { target: { value: "day" } });
    await waitFor(() => expect(sent).toHaveLength(2));
    expect(sent.map((s) => s.body.revision)).toEqual([3, 4]);
    expect(sent[1]!.body).toMatchObject({ exclude: "bad", order: "day" });
  });

  it("gives a column that changes its role the unit of that role", async () => {
    const sent = serving(view);
    show(<ImportPage />);
    fireEvent.change(await screen.findByLabelText("Chlorine holds"), { target: { value: "ph" } });
    await waitFor(() => expect(sent).toHaveLength(1));
    expect(sent[0]!.body.columns).toEqual([{ role: "ph", unit: "" }]);
  });

  it.each([
    [{ ...view, preview: { ...preview, problem: "This is no table." } }, "This is no table."],
    [
      {
        ...view,
        preview: null,
        account: {
          name: "A",
          exported_at: "2026-07-01",
          tables: [{ name: "events", added: 0, same: 4, differ: 0 }],
        },
      },
      "Everything in this file is here already.",
    ],
  ])("offers nothing where nothing can be brought in", async (held, headline) => {
    serving(held);
    show(<ImportPage />);
    expect((await screen.findAllByText(headline)).length).toBeGreaterThan(0);
    expect(screen.getByRole("button", { name: /Bring in/ })).toHaveProperty("disabled", true);
  });
});
