// The account, the person's units and what they count in.
import { useQuery } from "@tanstack/react-query";

import { useChange } from "./change";
import { api, unwrap, type Schemas } from "./client";

export type OwnMeasure = Schemas["MeasureBody"];
export type Units = Schemas["AccountChange"]["unit_system"];

export const useAccount = () =>
  useQuery({
    queryKey: ["account"],
    queryFn: ({ signal }) => unwrap(api.GET("/api/v1/account", { signal })),
  });

export const useChangeAccount = () =>
  useChange((body: Schemas["AccountChange"]) => unwrap(api.PUT("/api/v1/account", { body })), ["everything"]);
