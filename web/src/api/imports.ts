// Imports: a file is looked through, matched, confirmed; what it brought can be reverted and restored.
import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { useChange } from "./change";
import { api, unwrap, type Schemas } from "./client";
import { underWay, type Job } from "./jobs";

export type Matching = Omit<Schemas["ReadingsBody"], "revision">;

const of = (job_id: string) => ({ params: { path: { job_id } } });

export const useInbox = () =>
  useQuery({
    queryKey: ["inbox"],
    staleTime: Infinity,
    queryFn: ({ signal }) => unwrap(api.GET("/api/v1/inbox", { signal })),
  });

export const useImport = (id: string) =>
  useQuery({
    queryKey: ["import", id],
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => unwrap(api.GET("/api/v1/imports/{job_id}", { signal, ...of(id) })),
    refetchInterval: (query) => (query.state.data && underWay(query.state.data.job) ? 500 : false),
  });

export const startImport = (body: Schemas["NewImport"]) => unwrap(api.POST("/api/v1/imports", { body }));

export const changeMatching = (id: string, body: Schemas["ReadingsBody"]) =>
  unwrap(api.PUT("/api/v1/imports/{job_id}", { ...of(id), body }));

export const useConfirmImport = () =>
  useChange(
    (job: Job) =>
      unwrap(
        api.POST("/api/v1/imports/{job_id}/confirm", { ...of(job.id), body: { revision: job.revision } }),
      ),
    ["jobs"],
  );

export const useRevertImport = () =>
  useChange((id: string) => unwrap(api.POST("/api/v1/imports/{job_id}/revert", of(id))), ["jobs", "log"]);

export const useRestoreImport = () =>
  useChange((id: string) => unwrap(api.POST("/api/v1/imports/{job_id}/restore", of(id))), ["jobs", "log"]);
