// Every number can answer "why?": the rule, its school and its source.
import { Box, CloseButton, Dialog, Portal, Text } from "@chakra-ui/react";
import { useRef, useState, type ReactNode } from "react";
import { Link } from "react-router";

import { useMeta } from "../api/queries";
import { LinkButton } from "./controls";

type Props = { reasonId: string; children?: string; picture?: ReactNode };

export function WhyLink({ reasonId, children = "why?", picture }: Props) {
  const reason = useMeta().data?.reasons[reasonId];
  const [open, setOpen] = useState(false);
  const close = useRef<HTMLButtonElement>(null);
  if (!reason) return null;
  return (
    <Dialog.Root open={open} onOpenChange={(e) => setOpen(e.open)} initialFocusEl={() => close.current} placement="center">
      <Dialog.Trigger asChild>
        <LinkButton aria-label={children === "why?" ? `why? ${reason.title}` : children}>{children}</LinkButton>
      </Dialog.Trigger>
      <Portal>
        <Dialog.Backdrop bg="rgba(10,14,16,0.55)" />
        <Dialog.Positioner>
          <Dialog.Content onKeyDown={(e) => e.key === "Escape" && setOpen(false)} bg="paper" color="ink" borderRadius="mark" border="2px solid" borderColor="ink" boxShadow="none" maxW={picture ? "760px" : "520px"} m="16px">
            <Dialog.Header pb="8px" pr="56px">
              <Dialog.Title fontSize="20px" fontWeight={700}>{reason.title}</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
              <Text fontSize="16px">{reason.text}</Text>
              {picture}
              <Box mt="16px" pt="12px" borderTop="1px solid" borderColor="hair" fontSize="14px" color="muted">
                <Text><b>School:</b> {reason.school}</Text>
                <Text><b>Source:</b> {reason.source}</Text>
                <Text mt="6px"><Link to={`/why#${reasonId}`} onClick={() => setOpen(false)} style={{ textDecoration: "underline" }}>all rules</Link></Text>
              </Box>
            </Dialog.Body>
            <Dialog.CloseTrigger asChild>
              <CloseButton ref={close} aria-label="Close" color="ink" borderRadius="mark" size="lg" top="8px" right="8px" position="absolute" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
