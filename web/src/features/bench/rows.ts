// The readings a test may hold, as rows of the Bench: which, how each is read, and what of a draft goes to the server.
import { type Meta } from "../../api/meta";
import { type Draft } from "./useDraft";

export type Row = {
  measure: string;
  label: string;
  short: string;
  unit: string;
  countsDrops: (method: string) => boolean;
  defaultMethod: (kit: string) => string;
};

// Short names, so that a reading stays on one line; the full one is its accessible name.
const SHORT: Record<string, string> = {
  cc: "Combined",
  tc: "Total",
  ta: "Alkalinity",
  ch: "Calcium",
  temp: "Water",
};

/** The rows of a draft: combined or total chlorine, and those not asked for at every test where they are wanted. */
export function rowsOf(meta: Meta, draft: Pick<Draft, "combined" | "more">): Row[] {
  const other = draft.combined === "cc" ? "tc" : "cc";
  return meta.measures
    .filter((m) => m.id !== other && (draft.more || !m.extra))
    .sort((a, b) => Number(a.extra) - Number(b.extra))
    .map((m) => {
      const method = (id: string) => meta.methods.find((x) => x.id === id);
      const own = m.usual_method === "thermometer";
      return {
        measure: m.id,
        label: m.label,
        short: SHORT[m.id] ?? m.label,
        unit: m.unit,
        countsDrops: (id) => method(id)?.per_drop[m.id] !== undefined,
        defaultMethod: (kit) => (own || !method(kit)?.reads.includes(m.id) ? m.usual_method : kit),
      };
    });
}

/** How a row of the draft is read. */
export const methodOf = (draft: Pick<Draft, "methods" | "kit">, row: Row) =>
  draft.methods[row.measure] ?? row.defaultMethod(draft.kit);

/** The readings of a draft as the API takes them. A count of drops goes as such; half a drop as text, which is refused at its field. */
export function readingsOf(draft: Pick<Draft, "texts" | "methods" | "kit" | "drops">, rows: Row[]) {
  return rows
    .filter((row) => (draft.texts[row.measure] ?? "").trim() !== "")
    .map((row) => {
      const text = draft.texts[row.measure]!.trim();
      const method = methodOf(draft, row);
      const counted = draft.drops && row.countsDrops(method);
      const whole = /^\d{1,3}$/.test(text);
      return {
        measure: row.measure,
        text: counted && !whole ? `${text} drops` : text,
        unit: row.unit,
        method,
        drop_count: counted && whole ? Number(text) : null,
      };
    });
}
