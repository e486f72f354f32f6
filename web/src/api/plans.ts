// Plans while typing and accepted; and the run sheet that shows what is under way.
import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { useChange } from "./change";
import { api, unwrap, type Schemas } from "./client";

export type Step = Schemas["StepView"];
export type SlotData = Schemas["SlotView"];
export type PlanData = Schemas["PlanView"];
type Preview = Schemas["PreviewBody"];

export const useToday = (poolId: string | undefined) =>
  useQuery({
    queryKey: ["today", poolId],
    enabled: !!poolId,
    refetchInterval: 60_000,
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/v1/pools/{pool_id}/today", { signal, params: { path: { pool_id: poolId! } } })),
  });

/** The plan for what is typed so far. Keyed by what was typed: a late answer lands under its own key and is dropped. */
export function usePlan(poolId: string, body: Preview) {
  const typed = (body.readings?.length ?? 0) > 0;
  return useQuery({
    queryKey: ["preview", poolId, body],
    queryFn: ({ signal }) =>
      unwrap(
        api.POST("/api/v1/pools/{pool_id}/plan-previews", {
          signal,
          params: { path: { pool_id: poolId } },
          body,
        }),
      ),
    enabled: typed,
    // The last plan stays until the next is there: of this pool, and only of readings, never of an empty form.
    placeholderData: (previous, query) =>
      query?.queryKey[1] === poolId && typed ? keepPreviousData(previous) : undefined,
    gcTime: 10_000,
  });
}

export const useAcceptPlan = (poolId: string) =>
  useChange(
    (body: Schemas["PlanBody"]) =>
      unwrap(api.POST("/api/v1/pools/{pool_id}/plans", { params: { path: { pool_id: poolId } }, body })),
    ["log"],
  );
