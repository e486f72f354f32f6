// The half-typed test: kept on this device per pool until it is accepted, so a reload or lost server costs nothing.
import { v7 as uuid } from "uuid";

import { useKept } from "../../lib/store";

export type Draft = {
  testId: string;
  planId: string;
  kit: string;
  mixed: boolean;
  combined: "cc" | "tc";
  texts: Record<string, string>;
  methods: Record<string, string>;
  products: Record<string, { product_id: string; strength: number | null }>;
};

export const emptyDraft = (kit = "drops"): Draft => ({
  testId: uuid(), planId: uuid(), kit, mixed: false, combined: "cc", texts: {}, methods: {}, products: {},
});

export function useDraft(poolId: string) {
  const [kit, setKit] = useKept("kumpan.kit", "drops");
  const [draft, set] = useKept<Draft>(`kumpan.draft.${poolId}`, emptyDraft(kit));
  return {
    draft,
    change: (part: Partial<Draft>) => {
      if (part.kit) setKit(part.kit);
      set({ ...draft, ...part });
    },
    clear: () => set(emptyDraft(kit)),
  };
}

/** The readings of a draft as the API takes them. */
export function readingsOf(draft: Draft, rows: Row[]) {
  return rows
    .filter((row) => (draft.texts[row.measure] ?? "").trim() !== "")
    .map((row) => ({
      measure: row.measure, text: draft.texts[row.measure]!, unit: row.unit,
      method: draft.methods[row.measure] ?? row.defaultMethod(draft.kit),
    }));
}

export type Row = { measure: string; label: string; short: string; unit: string; defaultMethod: (kit: string) => string };
