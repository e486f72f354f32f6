// Pools, their settings, and the volume that the log proves.
import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { useChange } from "./change";
import { api, unwrap, type Schemas } from "./client";

export type Pool = Schemas["PoolView"];
export type Volume = Schemas["VolumeBody"];
export type Proof = Schemas["ProofView"];
type Fields = Omit<Schemas["NewPool"], "id">;

const of = (pool_id: string) => ({ params: { path: { pool_id } } });

export const usePools = () =>
  useQuery({ queryKey: ["pools"], queryFn: ({ signal }) => unwrap(api.GET("/api/v1/pools", { signal })) });

export const useArchivedPools = () =>
  useQuery({
    queryKey: ["archived"],
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/v1/pools", { signal, params: { query: { archived: true } } })),
    select: (pools) => pools.filter((p) => p.archived_at),
  });

/** Add a pool under an id of ours, or change one. */
export const useSavePool = (pool: Pool | undefined, id: string) =>
  useChange(
    (body: Fields) =>
      unwrap(
        pool
          ? api.PUT("/api/v1/pools/{pool_id}", { ...of(pool.id), body: { ...body, revision: pool.revision } })
          : api.POST("/api/v1/pools", { body: { ...body, id } }),
      ),
    ["pools"],
    { wait: true },
  );

export const useSaveSettings = (pool: Pool) =>
  useChange(
    (body: Schemas["SettingsBody"]) =>
      unwrap(
        api.PUT("/api/v1/pools/{pool_id}/settings", {
          ...of(pool.id),
          body: { ...body, revision: pool.revision },
        }),
      ),
    ["pools"],
  );

export const useArchivePool = () =>
  useChange((id: string) => unwrap(api.POST("/api/v1/pools/{pool_id}/archive", of(id))), ["pools"]);

export const useUnarchivePool = () =>
  useChange((id: string) => unwrap(api.POST("/api/v1/pools/{pool_id}/unarchive", of(id))), ["pools"]);

/** The volume of what is typed; the last drawing stays while the next one is on its way. */
export const useVolume = (body: Volume, ready: boolean) =>
  useQuery({
    queryKey: ["volume", body],
    enabled: ready,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => unwrap(api.POST("/api/v1/volumes", { signal, body })),
  });

export const useProofs = (pool: Pool) =>
  useQuery({
    queryKey: ["proofs", pool.id],
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/v1/pools/{pool_id}/volume-proofs", { signal, ...of(pool.id) })),
  });

/** Let a proof count, or no longer. */
export const useWeighProof = (pool: Pool) =>
  useChange(
    ({ key, taken }: Proof) => {
      const sent = { ...of(pool.id), body: { key, revision: pool.revision } };
      return unwrap(
        taken
          ? api.POST("/api/v1/pools/{pool_id}/volume-proofs/exclude", sent)
          : api.POST("/api/v1/pools/{pool_id}/volume-proofs", sent),
      );
    },
    ["pools"],
  );
