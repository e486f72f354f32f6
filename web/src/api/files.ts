// Files go up piece by piece; a piece that does not arrive is sent again once the server is back.
import { v7 as uuid } from "uuid";

import { api, Problem, unwrap } from "./client";

const pause = () => new Promise((resolve) => setTimeout(resolve, 1000));

/** Send a file and return its id. told: the share that has arrived. */
export async function sendFile(file: File, told: (share: number) => void = () => undefined): Promise<string> {
  const id = uuid();
  const { piece } = await patiently(() =>
    unwrap(api.POST("/api/v1/files", { body: { id, name: file.name, size: file.size } })),
  );
  for (let position = 0; position * piece < file.size; position++) {
    const bytes = await file.slice(position * piece, (position + 1) * piece).arrayBuffer();
    const arrived = await patiently(() =>
      unwrap(
        api.PUT("/api/v1/files/{file_id}/pieces/{position}", {
          params: { path: { file_id: id, position } },
          body: bytes as never,
          bodySerializer: (body: unknown) => body as ArrayBuffer,
          headers: { "Content-Type": "application/octet-stream" },
        }),
      ),
    );
    told(arrived / file.size);
  }
  return id;
}

/** Each step may be sent again without harm, so a lost server only costs time. */
async function patiently<T>(step: () => Promise<T>): Promise<T> {
  for (let tries = 0; ; tries++) {
    try {
      return await step();
    } catch (error) {
      if (!(error instanceof Problem && (error.status === 0 || error.status === 503)) || tries > 120)
        throw error;
      await pause();
    }
  }
}

export type Owner = { event_id: string } | { equipment_id: string };

/** Keep a picture with an entry or a piece of equipment. */
export async function sendPhoto(file: File, owner: Owner) {
  const file_id = await sendFile(file);
  const id = uuid();
  return patiently(() => unwrap(api.POST("/api/v1/photos", { body: { id, file_id, ...owner } })));
}
