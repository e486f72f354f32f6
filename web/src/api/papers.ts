// Papers of equipment.
import { v7 as uuid } from "uuid";

import { useChange } from "./change";
import { api, type Schemas, unwrap } from "./client";
import { sendFile } from "./files";

export type Paper = Schemas["PaperView"];

const of = (paper: Paper) => ({ params: { path: { paper_id: paper.id } } });

export const useAddPapers = (equipmentId: string) =>
  useChange(
    async (files: File[]) => {
      for (const file of files) {
        const file_id = await sendFile(file);
        await unwrap(
          api.POST("/api/v1/papers", { body: { id: uuid(), file_id, equipment_id: equipmentId } }),
        );
      }
    },
    ["equipment"],
  );

export const useRemovePaper = () =>
  useChange((paper: Paper) => unwrap(api.DELETE("/api/v1/papers/{paper_id}", of(paper))), ["equipment"]);

export const useRestorePaper = () =>
  useChange(
    (paper: Paper) => unwrap(api.POST("/api/v1/papers/{paper_id}/restore", of(paper))),
    ["equipment"],
  );
