// The keyboard's shortcuts, on "?".
import { CloseButton, Dialog, Portal, Table } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";

import { LinkButton } from "./controls";

const KEYS = [
  ["Enter", "next reading; after the last, accept"],
  ["↑ ↓", "step a reading by the method's resolution"],
  ["g then t, b, l, p, s or w", "go to Today, Bench, Log, Pool, Shelf or Why"],
  ["1 to 9, on the Log", "write a dose or what happened, as the buttons say"],
  ["?", "this list"],
  ["Esc", "close"],
];
const GO: Record<string, string> = { t: "/", b: "/bench", l: "/log", p: "/pool", s: "/shelf", w: "/why" };

export function Keys() {
  const [open, setOpen] = useState(false);
  const navigate = useNavigate();
  useEffect(() => {
    let went = 0;
    const onKey = (event: KeyboardEvent) => {
      const typing = (event.target as HTMLElement).closest("input, select, textarea");
      if (typing && event.key !== "?") return;
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.key === "?") {
        event.preventDefault();
        setOpen(true);
      } else if (event.key === "g") went = Date.now();
      else if (Date.now() - went < 1500 && GO[event.key]) void navigate(GO[event.key]!);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [navigate]);
  return (
    <Dialog.Root open={open} onOpenChange={(e) => setOpen(e.open)}>
      <Dialog.Trigger asChild>
        <LinkButton color="muted" textDecoration="none">
          ? keys
        </LinkButton>
      </Dialog.Trigger>
      <Portal>
        <Dialog.Backdrop bg="rgba(10,14,16,0.55)" />
        <Dialog.Positioner>
          <Dialog.Content
            onKeyDown={(e) => e.key === "Escape" && setOpen(false)}
            bg="paper"
            color="ink"
            borderRadius="mark"
            border="2px solid"
            borderColor="ink"
            boxShadow="none"
            maxW="460px"
            m="16px"
          >
            <Dialog.Header>
              <Dialog.Title fontSize="20px">Keys</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
              <Table.Root>
                <Table.Body>
                  {KEYS.map(([key, what]) => (
                    <Table.Row key={key} bg="transparent">
                      <Table.Cell fontWeight={700} borderColor="hair">
                        {key}
                      </Table.Cell>
                      <Table.Cell borderColor="hair">{what}</Table.Cell>
                    </Table.Row>
                  ))}
                </Table.Body>
              </Table.Root>
            </Dialog.Body>
            <Dialog.CloseTrigger asChild>
              <CloseButton aria-label="Close" color="ink" position="absolute" top="8px" right="8px" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
