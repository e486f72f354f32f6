// Manuals, receipts and warranties of a piece of equipment: fetched, added, taken off and put back.
import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { type Problem } from "../api/client";
import { type Paper, useAddPapers, useRemovePaper, useRestorePaper } from "../api/papers";
import { LinkButton, Notice } from "./controls";
import { FileInput } from "./Photos";

export function Papers({ papers, equipmentId }: { papers: Paper[]; equipmentId: string }) {
  const [gone, setGone] = useState<Paper | null>(null);
  const add = useAddPapers(equipmentId);
  const remove = useRemovePaper();
  const restore = useRestorePaper();
  const failed = (add.error ?? remove.error ?? restore.error) as Problem | null;
  return (
    <Box mt="12px">
      <Text fontSize="14px" fontWeight={700} mb="4px">
        Manual, receipt, warranty
      </Text>
      {papers.map((paper) => (
        <Flex key={paper.id} gap="16px" align="baseline">
          <a href={paper.url} download style={{ textDecoration: "underline" }}>
            {paper.name}
          </a>
          <LinkButton
            type="button"
            aria-label={`take off ${paper.name}`}
            onClick={() => remove.mutate(paper, { onSuccess: () => setGone(paper) })}
          >
            take off
          </LinkButton>
        </Flex>
      ))}
      {gone && (
        <Text role="status" fontSize="14px">
          {gone.name} was taken off.{" "}
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
          accept="application/pdf,image/jpeg,image/png"
          multiple
          aria-label="Add a manual, receipt or warranty"
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
