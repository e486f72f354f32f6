// Clear-up: what a run would be, and beginning one.
import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { useChange } from "./change";
import { api, type Schemas, unwrap } from "./client";

export type Asked = Required<Schemas["AskedBody"]>;
export type ClearUp = Schemas["ClearUpView"];
export type Run = Schemas["RunView"];

export const useClearUp = (poolId: string, asked: Asked) =>
  useQuery({
    queryKey: ["preview", "clear-up", poolId, asked],
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      unwrap(
        api.POST("/api/v1/pools/{pool_id}/clear-ups/preview", {
          signal,
          params: { path: { pool_id: poolId } },
          body: asked,
        }),
      ),
  });

export const useBeginRun = (poolId: string) =>
  useChange(
    ({ id, asked }: { id: string; asked: Asked }) =>
      unwrap(
        api.POST("/api/v1/pools/{pool_id}/clear-ups", {
          params: { path: { pool_id: poolId } },
          body: { id, at: new Date().toISOString(), asked, performed_by: "" },
        }),
      ),
    ["log"],
    { wait: true },
  );
