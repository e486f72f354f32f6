// Every number can answer "why?": the rule, its school and its source.
import { Box, CloseButton, Dialog, Portal, Text } from "@chakra-ui/react";
import { useRef, useState, type ReactNode, type RefObject } from "react";
import { Link } from "react-router";

import { type Meta, useMeta } from "../api/meta";
import { LinkButton } from "./controls";

type Props = { reasonId: string; children?: string; picture?: ReactNode; onAct?: boolean };

export function WhyLink({ reasonId, children = "why?", picture, onAct = false }: Props) {
  const reason = useMeta().data?.reasons[reasonId];
  const [open, setOpen] = useState(false);
  const link = useRef<HTMLButtonElement>(null);
  if (!reason) return null;
  return (
    <>
      <LinkButton
        ref={link}
        onAct={onAct}
        aria-haspopup="dialog"
        aria-expanded={open}
        aria-label={children === "why?" ? `why? ${reason.title}` : children}
        onClick={() => setOpen(true)}
      >
        {children}
      </LinkButton>
      {open && (
        <Told
          reasonId={reasonId}
          reason={reason}
          picture={picture}
          close={() => setOpen(false)}
          link={link}
        />
      )}
    </>
  );
}

type ToldProps = {
  reasonId: string;
  reason: Meta["reasons"][string];
  picture: ReactNode;
  close: () => void;
  link: RefObject<HTMLButtonElement | null>;
};

/** The dialog, made only when asked for: a page holds dozens of links. */
function Told({ reasonId, reason, picture, close, link }: ToldProps) {
  const button = useRef<HTMLButtonElement>(null);
  return (
    <Dialog.Root
      open
      onOpenChange={(e) => {
        if (!e.open) close();
      }}
      initialFocusEl={() => button.current}
      finalFocusEl={() => link.current}
    >
      <Portal>
        <Dialog.Backdrop bg="rgba(10,14,16,0.55)" />
        <Dialog.Positioner>
          <Dialog.Content
            onKeyDown={(e) => {
              if (e.key === "Escape") close();
            }}
            bg="paper"
            color="ink"
            borderRadius="mark"
            border="2px solid"
            borderColor="ink"
            boxShadow="none"
            maxW={picture ? "760px" : "520px"}
            m="16px"
          >
            <Dialog.Header pb="8px" pr="56px">
              <Dialog.Title fontSize="20px" fontWeight={700}>
                {reason.title}
              </Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
              <Text fontSize="16px">{reason.text}</Text>
              {picture}
              <Box mt="16px" pt="12px" borderTop="1px solid" borderColor="hair" fontSize="14px" color="muted">
                <Text>
                  <b>School:</b> {reason.school}
                </Text>
                <Text>
                  <b>Source:</b> {reason.source}
                </Text>
                <Text mt="6px">
                  <Link to={`/why#${reasonId}`} onClick={close} style={{ textDecoration: "underline" }}>
                    all rules
                  </Link>
                </Text>
              </Box>
            </Dialog.Body>
            <Dialog.CloseTrigger asChild>
              <CloseButton
                ref={button}
                aria-label="Close"
                color="ink"
                top="8px"
                right="8px"
                position="absolute"
              />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
