// On a phone: the views that do not fit the bar.
import { Box, chakra } from "@chakra-ui/react";
import { Link } from "react-router";

import { Page } from "../../ui/Page";

const Row = chakra(Link, {
  base: {
    display: "block",
    fontSize: "20px",
    fontWeight: 700,
    py: "14px",
    borderBottom: "1px solid",
    borderColor: "hair",
  },
});
const WAYS = [
  ["/clear-up", "Clear-up: shock, algae, an incident, a complaint"],
  ["/pool", "Pool"],
  ["/shelf", "Shelf"],
  ["/why", "Why"],
] as const;

export function MorePage() {
  return (
    <Page above="" headline="More">
      <Box>
        {WAYS.map(([to, name]) => (
          <Row key={to} to={to}>
            {name}
          </Row>
        ))}
      </Box>
    </Page>
  );
}
