// Long work as the server tells it: asked again often while any of it goes on.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { api, unwrap, type Schemas } from "../../api/client";

export type JobView = Schemas["JobView"];
export const underWay = (job: JobView) => job.state === "waiting" || job.state === "running";

export const useJobs = () =>
  useQuery({
    queryKey: ["jobs"],
    queryFn: ({ signal }) => unwrap(api.GET("/api/v1/jobs", { signal })),
    refetchInterval: (query) => (query.state.data?.some(underWay) ? 700 : 5000), // files dropped in the folder turn up by themselves
  });

/** What may be done to a job; all that is shown may have changed by it. */
export function useJobActs() {
  const client = useQueryClient();
  const path = (id: string) => ({ params: { path: { job_id: id } } });
  const onSuccess = () => client.invalidateQueries();
  return {
    cancel: useMutation({
      mutationFn: (id: string) => unwrap(api.POST("/api/v1/jobs/{job_id}/cancel", path(id))),
      onSuccess,
    }),
    takeBack: useMutation({
      mutationFn: (id: string) => unwrap(api.POST("/api/v1/imports/{job_id}/take-back", path(id))),
      onSuccess,
    }),
    bringBack: useMutation({
      mutationFn: (id: string) => unwrap(api.POST("/api/v1/imports/{job_id}/bring-back", path(id))),
      onSuccess,
    }),
    forget: useMutation({
      mutationFn: async (id: string) => {
        const answer = await api.DELETE("/api/v1/jobs/{job_id}", path(id));
        if (!answer.response.ok) await unwrap(Promise.resolve(answer));
      },
      onSuccess,
    }),
    yes: useMutation({
      mutationFn: (job: JobView) =>
        unwrap(
          api.POST("/api/v1/imports/{job_id}/yes", { ...path(job.id), body: { revision: job.revision } }),
        ),
      onSuccess,
    }),
  };
}
