// The Pool view's three parts.
import { chakra, Flex } from "@chakra-ui/react";
import { NavLink } from "react-router";

const Part = chakra(NavLink, {
  base: {
    fontSize: "16px", minH: "44px", display: "inline-flex", alignItems: "center", color: "muted", borderBottom: "3px solid transparent",
    "&[aria-current=page]": { color: "ink", fontWeight: 700, borderBottomColor: "ink" },
  },
});

export function Parts() {
  return (
    <Flex as="nav" aria-label="Parts of the pool" gap="24px" mb="16px" mt="-12px">
      <Part to="/pool" end>Water</Part>
      <Part to="/pool/targets">Targets</Part>
      <Part to="/pool/equipment">Equipment</Part>
    </Flex>
  );
}
