// One hook per query that several features share.
import { useQuery } from "@tanstack/react-query";

import { api, unwrap, type Schemas } from "./client";

export type Pool = Schemas["PoolView"];
export type Meta = Schemas["Meta"];
export type Step = Schemas["StepView"];
export type SlotData = Schemas["SlotView"];
export type PlanData = Schemas["PlanView"];
export type EventView = Schemas["EventView"];
export type AcceptedPlan = Schemas["AcceptedPlan"];

export const useMeta = () =>
  useQuery({
    queryKey: ["meta"],
    queryFn: ({ signal }) => unwrap(api.GET("/api/v1/meta", { signal })),
    staleTime: Infinity,
  });

export const usePools = () =>
  useQuery({ queryKey: ["pools"], queryFn: ({ signal }) => unwrap(api.GET("/api/v1/pools", { signal })) });

export const useAccount = () =>
  useQuery({
    queryKey: ["account"],
    queryFn: ({ signal }) => unwrap(api.GET("/api/v1/account", { signal })),
  });

export const useToday = (poolId: string | undefined) =>
  useQuery({
    queryKey: ["today", poolId],
    enabled: !!poolId,
    refetchInterval: 60_000,
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/v1/pools/{pool_id}/today", { signal, params: { path: { pool_id: poolId! } } })),
  });
