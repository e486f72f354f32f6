// A pool's seasons: when to open or close, and the plans for that.
import { useQuery } from "@tanstack/react-query";

import { useChange } from "./change";
import { api, type Schemas, unwrap } from "./client";

export type Season = Schemas["SeasonView"];
export type Question = Schemas["QuestionView"];
export type PlanLink = Schemas["PlanLink"];

export const useSeason = (poolId: string | undefined) =>
  useQuery<Season>({
    queryKey: ["season", poolId],
    enabled: poolId !== undefined,
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/v1/pools/{pool_id}/season", { signal, params: { path: { pool_id: poolId! } } })),
  });

export type NewPlan = { id: string; subject: string; day: string; given: Record<string, string> };

export const useBeginPlan = (poolId: string) =>
  useChange(
    (plan: NewPlan) =>
      unwrap(
        api.POST("/api/v1/pools/{pool_id}/season-plans", {
          params: { path: { pool_id: poolId } },
          body: { ...plan, at: new Date().toISOString(), performed_by: "" },
        }),
      ),
    ["log"],
  );

/** A sheet of paper of it, drawn by the server. */
export const paper = (path: string, size: string) => `/api/v1${path}?size=${size}`;
