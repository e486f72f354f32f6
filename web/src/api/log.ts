// The log: its entries as a stream and as graphs, and what is written into it.
import { keepPreviousData, useInfiniteQuery, useQuery } from "@tanstack/react-query";

import { useChange } from "./change";
import { api, unwrap, type Schemas } from "./client";

export type LogEntry = Schemas["LogEntryView"];
export type UsualEntry = Schemas["UsualEntry"];
export type TestFields = Omit<Schemas["TestChange"], "revision">;
export type DoseFields = Pick<Schemas["DoseBody"], "product_id" | "strength" | "amount" | "unit" | "local">;
export type EntryFields = Pick<Schemas["NewEntry"], "kind" | "details" | "note"> & { local: string };

const of = (event_id: string) => ({ params: { path: { event_id } } });
const ofPool = (pool_id: string) => ({ params: { path: { pool_id } } });
/** What every new entry says: when it is sent; who is at it stands in the request's head. */
const sentNow = (id: string) => ({ id, at: new Date().toISOString(), performed_by: "" });

export const useLog = (poolId: string | undefined, only: string, search: string) =>
  useInfiniteQuery({
    queryKey: ["log", poolId, only, search],
    placeholderData: keepPreviousData,
    enabled: !!poolId,
    initialPageParam: null as string | null,
    queryFn: ({ signal, pageParam }) =>
      unwrap(
        api.GET("/api/v1/pools/{pool_id}/events", {
          signal,
          params: {
            path: { pool_id: poolId! },
            query: {
              limit: 50,
              q: search,
              ...(only ? { kind: [only] } : {}),
              ...(pageParam ? { cursor: pageParam } : {}),
            },
          },
        }),
      ),
    getNextPageParam: (page) => page.next,
  });

export const useUsualEntries = (poolId: string | undefined) =>
  useQuery({
    queryKey: ["usual", poolId],
    enabled: !!poolId,
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/v1/pools/{pool_id}/usual-entries", { signal, ...ofPool(poolId!) })),
  });

export const useGraph = (poolId: string | undefined, start: number, end: number) =>
  useQuery({
    queryKey: ["graph", poolId, start, end],
    enabled: !!poolId,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      unwrap(
        api.GET("/api/v1/pools/{pool_id}/graph", {
          signal,
          params: {
            path: { pool_id: poolId! },
            query: { start: new Date(start).toISOString(), end: new Date(end).toISOString() },
          },
        }),
      ),
  });

export const useSaveTest = (poolId: string) =>
  useChange(
    (body: Schemas["TestBody"]) =>
      unwrap(api.POST("/api/v1/pools/{pool_id}/tests", { ...ofPool(poolId), body })),
    ["log"],
  );

export const useCorrectTest = (entry: LogEntry) =>
  useChange(
    (body: TestFields) =>
      unwrap(
        api.PUT("/api/v1/tests/{event_id}", { ...of(entry.id), body: { ...body, revision: entry.revision } }),
      ),
    ["log"],
  );

/** Log a dose under an id of ours, or correct one. */
export const useSaveDose = (poolId: string, entry: LogEntry | undefined, id: string) =>
  useChange(
    (body: DoseFields) =>
      unwrap(
        entry
          ? api.PUT("/api/v1/doses/{event_id}", {
              ...of(entry.id),
              body: { ...body, revision: entry.revision },
            })
          : api.POST("/api/v1/pools/{pool_id}/doses", {
              ...ofPool(poolId),
              body: { ...body, ...sentNow(id) },
            }),
      ),
    ["log"],
  );

/** Write an entry under an id of ours, or correct one. */
export const saveEntry = (poolId: string, entry: LogEntry | undefined, id: string, body: EntryFields) =>
  unwrap(
    entry
      ? api.PUT("/api/v1/entries/{event_id}", {
          ...of(entry.id),
          body: { ...body, revision: entry.revision },
        })
      : api.POST("/api/v1/pools/{pool_id}/entries", { ...ofPool(poolId), body: { ...body, ...sentNow(id) } }),
  );

export const useDeleteEntry = () =>
  useChange((id: string) => unwrap(api.DELETE("/api/v1/events/{event_id}", of(id))), ["log"]);

export const useRestoreEntry = () =>
  useChange((id: string) => unwrap(api.POST("/api/v1/events/{event_id}/restore", of(id))), ["log"]);

export const useCosts = (poolId: string) =>
  useQuery({
    queryKey: ["costs", poolId],
    queryFn: ({ signal }) => unwrap(api.GET("/api/v1/pools/{pool_id}/costs", { signal, ...ofPool(poolId) })),
  });
