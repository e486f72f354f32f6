// A pool's machines, and the days away.
import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { useChange } from "./change";
import { api, type Schemas, unwrap } from "./client";

export type Machines = Schemas["MachinesView"];
export type Chlorinator = Schemas["ChlorinatorView"];
export type Feeder = Schemas["FeederView"];
export type Filter = Schemas["FilterView"];
export type Circulation = Schemas["CirculationView"];
export type Away = Schemas["AwayView"];
export type Guide = Schemas["Link"];

export const useMachines = (poolId: string | undefined) =>
  useQuery<Machines>({
    queryKey: ["machines", poolId],
    enabled: poolId !== undefined,
    // A bound panel is asked by the worker; what it told is looked at now and then.
    refetchInterval: (query) => (query.state.data?.chlorinator?.panel ? 10_000 : false),
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

export type Panel = Schemas["PanelView"];

const on = (pool_id: string) => ({ params: { path: { pool_id } } });

export const useBindPanel = (poolId: string) =>
  useChange(
    (address: string) =>
      unwrap(api.PUT("/api/v1/pools/{pool_id}/panel", { ...on(poolId), body: { address } })),
    ["log"],
  );

export const useUnbindPanel = (poolId: string) =>
  useChange(() => unwrap(api.DELETE("/api/v1/pools/{pool_id}/panel", on(poolId))), ["log"]);

export const useSetPanel = (poolId: string) =>
  useChange(
    (body: Schemas["SettingBody"]) =>
      unwrap(api.POST("/api/v1/pools/{pool_id}/panel/setting", { ...on(poolId), body })),
    ["log"],
  );

export const useFaultPanel = (poolId: string) =>
  useChange(
    (fault: string) =>
      unwrap(api.POST("/api/v1/pools/{pool_id}/panel/fault", { ...on(poolId), body: { fault } })),
    ["log"],
  );

export const useReadPanel = (poolId: string) =>
  useChange(
    (id: string) =>
      unwrap(
        api.POST("/api/v1/pools/{pool_id}/panel/reading", {
          ...on(poolId),
          body: { id, at: new Date().toISOString() },
        }),
      ),
    ["log"],
  );
