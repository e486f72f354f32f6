// The plan for what is typed so far. Keyed by what was typed: a late answer lands under its own key and is dropped.
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { api, unwrap, type Schemas } from "../../api/client";

type Body = Schemas["PreviewBody"];

export function usePlan(poolId: string, body: Body) {
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
    enabled: (body.readings?.length ?? 0) > 0,
    // The last plan stays until the next is there: of this pool, and only of readings, never of an empty form.
    placeholderData: (previous, query) =>
      query?.queryKey[1] === poolId && (body.readings?.length ?? 0) > 0
        ? keepPreviousData(previous)
        : undefined,
    gcTime: 10_000,
  });
}

export function useAccept(poolId: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["PlanBody"]) =>
      unwrap(api.POST("/api/v1/pools/{pool_id}/plans", { params: { path: { pool_id: poolId } }, body })),
    onSuccess: () => client.invalidateQueries(),
  });
}

export function useSaveTest(poolId: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["TestBody"]) =>
      unwrap(api.POST("/api/v1/pools/{pool_id}/tests", { params: { path: { pool_id: poolId } }, body })),
    onSuccess: () => client.invalidateQueries(),
  });
}
