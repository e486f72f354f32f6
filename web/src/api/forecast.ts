// What is foretold of a pool.
import { useQuery } from "@tanstack/react-query";

import { api, type Schemas, unwrap } from "./client";

export type Ahead = Schemas["AheadView"];

export const useAhead = (poolId: string | undefined) =>
  useQuery<Ahead>({
    queryKey: ["ahead", poolId],
    enabled: poolId !== undefined,
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/v1/pools/{pool_id}/ahead", { signal, params: { path: { pool_id: poolId! } } })),
  });
