// Photos of an entry or a piece of equipment: seen small, opened large, added, taken off and put back.
import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, unwrap, type Problem, type Schemas } from "../api/client";
import { sendPhoto } from "../api/upload";
import { LinkButton, Notice } from "./controls";

type Photo = Schemas["PhotoView"];
type Owner = { event_id: string } | { equipment_id: string };
export const PICTURES = "image/jpeg,image/png,image/webp";
const Thumb = chakra("img", {
  base: {
    h: "72px",
    w: "96px",
    objectFit: "cover",
    border: "1px solid",
    borderColor: "hair",
    borderRadius: "mark",
    display: "block",
  },
});
export const FileInput = chakra("input", {
  base: {
    display: "block",
    w: "100%",
    fontSize: "14px",
    minH: "44px",
    py: "5px",
    cursor: "pointer",
    "&::file-selector-button": {
      minH: "36px",
      px: "14px",
      mr: "12px",
      border: "1px solid",
      borderColor: "ink",
      borderRadius: "2px",
      bg: "transparent",
      color: "ink",
      cursor: "pointer",
      font: "inherit",
    },
  },
});

/** A row of small pictures that open large. */
export function Thumbs({ photos, small }: { photos: Photo[]; small?: boolean }) {
  return (
    <Flex gap="8px" wrap="wrap">
      {photos.map((p, i) => (
        <a key={p.id} href={p.url} target="_blank" rel="noreferrer">
          <Thumb
            src={p.url}
            alt={`Photo ${i + 1}`}
            loading="lazy"
            {...(small ? { h: "44px", w: "58px" } : {})}
          />
        </a>
      ))}
    </Flex>
  );
}

export function Photos({
  photos,
  owner,
  label = "Photos",
}: {
  photos: Photo[];
  owner: Owner;
  label?: string;
}) {
  const client = useQueryClient();
  const [gone, setGone] = useState<Photo | null>(null);
  const done = () => client.invalidateQueries();
  const add = useMutation({
    mutationFn: async (files: File[]) => {
      for (const file of files) await sendPhoto(file, owner);
    },
    onSettled: done, // those that did arrive are there, whatever became of the next
  });
  const path = (photo: Photo) => ({ params: { path: { photo_id: photo.id } } });
  const remove = useMutation({
    mutationFn: (photo: Photo) => unwrap(api.DELETE("/api/v1/photos/{photo_id}", path(photo))),
    onSuccess: (_, photo) => {
      setGone(photo);
      return done();
    },
  });
  const back = useMutation({
    mutationFn: (photo: Photo) => unwrap(api.POST("/api/v1/photos/{photo_id}/put-back", path(photo))),
    onSuccess: () => {
      setGone(null);
      return done();
    },
  });
  const failed = (add.error ?? remove.error ?? back.error) as Problem | null;
  return (
    <Box mt="12px">
      <Text fontSize="14px" fontWeight={700} mb="4px">
        {label}
      </Text>
      {photos.length > 0 && (
        <Flex gap="12px" wrap="wrap" mb="6px">
          {photos.map((p, i) => (
            <Box key={p.id}>
              <Thumbs photos={[p]} />
              <LinkButton
                type="button"
                aria-label={`take off photo ${i + 1}`}
                onClick={() => remove.mutate(p)}
              >
                take off
              </LinkButton>
            </Box>
          ))}
        </Flex>
      )}
      {gone && (
        <Text role="status" fontSize="14px">
          A photo was taken off.{" "}
          <LinkButton type="button" onClick={() => back.mutate(gone)}>
            put it back
          </LinkButton>
        </Text>
      )}
      {add.isPending ? (
        <Text role="status" fontSize="14px">
          Sending …
        </Text>
      ) : (
        <FileInput
          type="file"
          accept={PICTURES}
          multiple
          aria-label={`Add ${label.toLowerCase()}`}
          onChange={(e) => {
            const files = [...(e.target.files ?? [])];
            e.target.value = "";
            if (files.length) add.mutate(files);
          }}
        />
      )}
      {failed && <Notice>{failed.at("file") ?? failed.message}</Notice>}
    </Box>
  );
}
