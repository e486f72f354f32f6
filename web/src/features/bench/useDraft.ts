// The half-typed test: kept on this device per pool until it is accepted, so a reload or lost server costs nothing.
import { useCallback, useLayoutEffect, useMemo, useRef } from "react";
import { v7 as uuid } from "uuid";

import { useKept } from "../../lib/store";

export type Draft = {
  testId: string;
  planId: string;
  kit: string;
  mixed: boolean;
  combined: "cc" | "tc";
  more: boolean;
  texts: Record<string, string>;
  methods: Record<string, string>;
  products: Record<string, { product_id: string; strength: number | null }>;
  drops: boolean;
  school: string | null;
  seen: string[];
  stay: number | null;
  visits: number[];
  holdDays: number;
  closedPool: boolean;
  drainLater: boolean;
  raiseCalcium: boolean;
  samplingPoint: string;
};

export const emptyDraft = (kit = "drops"): Draft => ({
  testId: uuid(),
  planId: uuid(),
  kit,
  mixed: false,
  combined: "cc",
  more: false,
  texts: {},
  methods: {},
  products: {},
  drops: false,
  school: null,
  seen: [],
  stay: null,
  visits: [7],
  holdDays: 0,
  closedPool: false,
  drainLater: false,
  raiseCalcium: false,
  samplingPoint: "",
});

/** Nothing read yet, of a test that is another than the one before: its id may be stored already. */
export const emptied = (): Partial<Draft> => ({
  testId: uuid(),
  planId: uuid(),
  texts: {},
  methods: {},
  mixed: false,
});

/** What to change: the values, or what they are from the draft as it then stands. */
type Part = Partial<Draft> | ((draft: Draft) => Partial<Draft>);
export type Change = (part: Part) => void;

export function useDraft(poolId: string) {
  const [chosen, setKit] = useKept<string | null>("kumpan.kit", null);
  const kit = chosen ?? "drops";
  const [kept, set] = useKept<Draft>(`kumpan.draft.${poolId}`, emptyDraft(kit));
  const draft = useMemo(() => ({ ...emptyDraft(kit), ...kept }), [kit, kept]); // one kept by an older version lacks what came since
  const latest = useRef(draft);
  useLayoutEffect(() => {
    latest.current = draft;
  });
  // Stable, so that a key press renders the reading it changes and not every row.
  const change = useCallback(
    (part: Part) => {
      const changed = typeof part === "function" ? part(latest.current) : part;
      if (changed.kit) setKit(changed.kit);
      latest.current = { ...latest.current, ...changed };
      set(latest.current);
    },
    [set, setKit],
  );
  return { draft, change, clear: () => set(emptyDraft(kit)), kitChosen: chosen !== null };
}
