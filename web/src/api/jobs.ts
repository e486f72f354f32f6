// Long work as the server tells it: asked again often while any of it goes on.
import { useQuery } from "@tanstack/react-query";

import { useChange } from "./change";
import { api, unwrap, type Schemas } from "./client";

export type Job = Schemas["JobView"];
export const underWay = (job: Job) => job.state === "waiting" || job.state === "running";

const of = (job_id: string) => ({ params: { path: { job_id } } });

export const useJobs = () =>
  useQuery({
    queryKey: ["jobs"],
    queryFn: ({ signal }) => unwrap(api.GET("/api/v1/jobs", { signal })),
    // Files dropped in the folder turn up by themselves.
    refetchInterval: (query) => (query.state.data?.some(underWay) ? 700 : 5000),
  });

export const useCancelJob = () =>
  useChange((id: string) => unwrap(api.POST("/api/v1/jobs/{job_id}/cancel", of(id))), ["jobs"]);

export const useForgetJob = () =>
  useChange(
    async (id: string) => {
      const answer = await api.DELETE("/api/v1/jobs/{job_id}", of(id));
      if (!answer.response.ok) await unwrap(Promise.resolve(answer));
    },
    ["jobs"],
  );

export const useExport = () =>
  useChange((body: Schemas["NewExport"]) => unwrap(api.POST("/api/v1/exports", { body })), ["jobs"]);
