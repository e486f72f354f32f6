// Photos of entries and equipment.
import { useChange } from "./change";
import { api, unwrap, type Schemas } from "./client";
import { sendPhoto, type Owner } from "./files";

export type Photo = Schemas["PhotoView"];

const of = (photo: Photo) => ({ params: { path: { photo_id: photo.id } } });

/** Those that did arrive are there, whatever became of the next. */
export const useAddPhotos = (owner: Owner) =>
  useChange(
    async (files: File[]) => {
      for (const file of files) await sendPhoto(file, owner);
    },
    ["log", "equipment"],
  );

export const useRemovePhoto = () =>
  useChange(
    (photo: Photo) => unwrap(api.DELETE("/api/v1/photos/{photo_id}", of(photo))),
    ["log", "equipment"],
  );

export const useRestorePhoto = () =>
  useChange(
    (photo: Photo) => unwrap(api.POST("/api/v1/photos/{photo_id}/restore", of(photo))),
    ["log", "equipment"],
  );
