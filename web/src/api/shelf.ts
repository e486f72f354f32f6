// Products that stand ready.
import { useQuery } from "@tanstack/react-query";

import { useChange } from "./change";
import { api, unwrap, type Schemas } from "./client";

export type ShelfItem = Schemas["ShelfItemView"];
export type ShelfFields = Required<Omit<Schemas["NewShelfItem"], "id">>;

const of = (item_id: string) => ({ params: { path: { item_id } } });

export const useShelf = (poolId: string | undefined, ready: boolean) =>
  useQuery({
    queryKey: ["shelf", poolId],
    enabled: ready,
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/v1/shelf", { signal, params: { query: poolId ? { pool_id: poolId } : {} } })),
  });

/** Put a product on the shelf under an id of ours, or change one. */
export const useSaveItem = (item: ShelfItem | undefined, id: string) =>
  useChange(
    (body: ShelfFields) =>
      unwrap(
        item
          ? api.PUT("/api/v1/shelf/items/{item_id}", {
              ...of(item.id),
              body: { ...body, revision: item.revision },
            })
          : api.POST("/api/v1/shelf/items", { body: { ...body, id } }),
      ),
    ["shelf"],
  );

export const useRestock = () =>
  useChange(
    (item: ShelfItem) =>
      unwrap(
        api.POST("/api/v1/shelf/items/{item_id}/restock", {
          ...of(item.id),
          body: { packs: 1, revision: item.revision },
        }),
      ),
    ["shelf"],
  );

export const useRemoveItem = () =>
  useChange((id: string) => unwrap(api.DELETE("/api/v1/shelf/items/{item_id}", of(id))), ["shelf"]);

export const useRestoreItem = () =>
  useChange((id: string) => unwrap(api.POST("/api/v1/shelf/items/{item_id}/restore", of(id))), ["shelf"]);
