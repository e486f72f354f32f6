// A pool's equipment.
import { useQuery } from "@tanstack/react-query";

import { useChange } from "./change";
import { api, unwrap, type Schemas } from "./client";

export type Piece = Schemas["EquipmentView"];
export type PieceFields = Required<Omit<Schemas["NewEquipment"], "id">>;

const of = (equipment_id: string) => ({ params: { path: { equipment_id } } });

export const useEquipment = (poolId: string) =>
  useQuery({
    queryKey: ["equipment", poolId],
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/v1/pools/{pool_id}/equipment", { signal, params: { path: { pool_id: poolId } } })),
  });

/** Add a piece under an id of ours, or change one. */
export const useSavePiece = (poolId: string, piece: Piece | undefined, id: string) =>
  useChange(
    (body: PieceFields) =>
      unwrap(
        piece
          ? api.PUT("/api/v1/equipment/{equipment_id}", {
              ...of(piece.id),
              body: { ...body, revision: piece.revision },
            })
          : api.POST("/api/v1/pools/{pool_id}/equipment", {
              params: { path: { pool_id: poolId } },
              body: { ...body, id },
            }),
      ),
    ["equipment"],
  );

export const useRemovePiece = () =>
  useChange(
    (piece: Piece) => unwrap(api.DELETE("/api/v1/equipment/{equipment_id}", of(piece.id))),
    ["equipment"],
  );

export const useRestorePiece = () =>
  useChange(
    (id: string) => unwrap(api.POST("/api/v1/equipment/{equipment_id}/restore", of(id))),
    ["equipment"],
  );
