// Photos of an entry or a piece of equipment: seen small, opened large, added, taken off and put back.
import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { Problem } from "../api/client";
import { type Owner } from "../api/files";
import { type Photo, useAddPhotos, useRemovePhoto, useRestorePhoto } from "../api/photos";
import { LinkButton, Notice } from "./controls";

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
  const [gone, setGone] = useState<Photo | null>(null);
  const add = useAddPhotos(owner);
  const remove = useRemovePhoto();
  const restore = useRestorePhoto();
  const failed = (add.error ?? remove.error ?? restore.error) as Problem | null;
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
                onClick={() => remove.mutate(p, { onSuccess: () => setGone(p) })}
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
          <LinkButton type="button" onClick={() => restore.mutate(gone, { onSuccess: () => setGone(null) })}>
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
