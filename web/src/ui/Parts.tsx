// The parts of a view, as a line of links under its headline.
import { chakra, Flex } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { NavLink } from "react-router";

export const PartLink = chakra(NavLink, {
  base: {
    fontSize: "16px",
    minH: "44px",
    display: "inline-flex",
    alignItems: "center",
    color: "muted",
    borderBottom: "3px solid transparent",
    "&[aria-current=page]": { color: "ink", fontWeight: 700, borderBottomColor: "ink" },
  },
});

export function Parts({ label, children }: { label: string; children: ReactNode }) {
  return (
    <Flex as="nav" aria-label={label} gap="24px" mb="16px" mt="-12px">
      {children}
    </Flex>
  );
}
