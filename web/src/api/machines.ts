// A pool's machines, and the days away.
import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { api, type Schemas, unwrap } from "./client";

export type Machines = Schemas["MachinesView"];
export type Chlorinator = Schemas["ChlorinatorView"];
export type Feeder = Schemas["FeederView"];
export type Filter = Schemas["FilterView"];
export type Circulation = Schemas["CirculationView"];
export type Away = Schemas["AwayView"];
export type Guide = Schemas["Link"];

export const useMachines = (poolId: string | undefined) =>
  useQuery({
    queryKey: ["machines", poolId],
    enabled: poolId !== undefined,
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/v1/pools/{pool_id}/machines", { signal, params: { path: { pool_id: poolId! } } })),
  });

export const useAway = (poolId: string | undefined, days: number) =>
  useQuery({
    queryKey: ["away", poolId, days],
    enabled: poolId !== undefined,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      unwrap(
        api.GET("/api/v1/pools/{pool_id}/away", {
          signal,
          params: { path: { pool_id: poolId! }, query: { days } },
        }),
      ),
  });
