// Recurring work: what is due, how it comes round, and the calendars others read.
import { useQuery } from "@tanstack/react-query";

import { useChange } from "./change";
import { api, type Schemas, unwrap } from "./client";

export type Care = Schemas["CareView"];
export type DueLine = Schemas["DueLine"];
export type DueTask = Schemas["DueTask"];
export type Task = Schemas["TaskView"];
export type Visit = Schemas["Visit"];
export type Repeat = Schemas["RepeatBody"];
type Chosen = Schemas["CareBody"];

export const useCare = (poolId: string | undefined) =>
  useQuery({
    queryKey: ["care", poolId],
    enabled: poolId !== undefined,
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/v1/pools/{pool_id}/care", { signal, params: { path: { pool_id: poolId! } } })),
  });

export const useSaveCare = (poolId: string) =>
  useChange(
    (body: Chosen) =>
      unwrap(api.PUT("/api/v1/pools/{pool_id}/care", { params: { path: { pool_id: poolId } }, body })),
    ["pools"],
    { wait: true },
  );

export const useAddTask = (poolId: string) =>
  useChange(
    (body: Schemas["NewTaskBody"]) =>
      unwrap(api.POST("/api/v1/pools/{pool_id}/tasks", { params: { path: { pool_id: poolId } }, body })),
    ["log"],
  );

export const useChangeTask = () =>
  useChange(
    ({ id, ...body }: Schemas["TaskBody"] & { id: string }) =>
      unwrap(api.PUT("/api/v1/tasks/{task_id}", { params: { path: { task_id: id } }, body })),
    ["log"],
  );

export const useRemoveTask = () =>
  useChange(
    (id: string) => unwrap(api.DELETE("/api/v1/tasks/{task_id}", { params: { path: { task_id: id } } })),
    ["log"],
  );

export type Ticked = { taskId: string; id: string; minutes?: string; note?: string };

export const useTickTask = () =>
  useChange(
    ({ taskId, id, minutes = "", note = "" }: Ticked) =>
      unwrap(
        api.POST("/api/v1/tasks/{task_id}/done", {
          params: { path: { task_id: taskId } },
          body: { id, at: new Date().toISOString(), local: "", minutes, note, found: "", performed_by: "" },
        }),
      ),
    ["log"],
  );

export type TaskWord = { taskId: string; id: string; verb: "snooze" | "skip"; value: string };

export const useSayOfTask = () =>
  useChange(
    ({ taskId, id, verb, value }: TaskWord) =>
      unwrap(
        api.POST("/api/v1/tasks/{task_id}/marks", {
          params: { path: { task_id: taskId } },
          body: { id, at: new Date().toISOString(), verb, value, performed_by: "" },
        }),
      ),
    ["log"],
  );

export const useBeginWalk = (poolId: string) =>
  useChange(
    ({ id, kind, days = 0 }: { id: string; kind: string; days?: number }) =>
      unwrap(
        api.POST("/api/v1/pools/{pool_id}/walks", {
          params: { path: { pool_id: poolId } },
          body: { id, at: new Date().toISOString(), kind, days, performed_by: "" },
        }),
      ),
    ["log"],
  );

export const useMakeFeed = () =>
  useChange((body: Schemas["FeedBody"]) => unwrap(api.POST("/api/v1/feeds", { body })), ["log"]);

export const useRotateFeed = () =>
  useChange(
    (id: string) => unwrap(api.POST("/api/v1/feeds/{feed_id}/rotate", { params: { path: { feed_id: id } } })),
    ["log"],
  );

export const useEndFeed = () =>
  useChange(
    (id: string) => unwrap(api.DELETE("/api/v1/feeds/{feed_id}", { params: { path: { feed_id: id } } })),
    ["log"],
  );
