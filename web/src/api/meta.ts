// What the screens need to know of the trade, and the kinds of records with their fields.
import { useQuery } from "@tanstack/react-query";

import { api, unwrap, type Schemas } from "./client";

export type Meta = Schemas["Meta"];
export type Kind = Schemas["KindMeta"];

export const useMeta = () =>
  useQuery({
    queryKey: ["meta"],
    queryFn: ({ signal }) => unwrap(api.GET("/api/v1/meta", { signal })),
    staleTime: Infinity,
  });

export const useEntryKinds = () =>
  useQuery({
    queryKey: ["meta", "entries"],
    staleTime: Infinity,
    queryFn: ({ signal }) => unwrap(api.GET("/api/v1/entry-kinds", { signal })),
  });

export const useEquipmentKinds = () =>
  useQuery({
    queryKey: ["meta", "equipment"],
    staleTime: Infinity,
    queryFn: ({ signal }) => unwrap(api.GET("/api/v1/equipment-kinds", { signal })),
  });
