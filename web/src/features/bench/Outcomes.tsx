// What comes of it: pH, active chlorine and saturation index as tested, with the plan in, and once its chlorine is spent.
import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { Fragment } from "react";

import type { PlanData } from "../../api/queries";
import { Slot } from "../../ui/Slot";
import { WhyLink } from "../../ui/WhyLink";

const Table = chakra("table");
const Cell = chakra("td");
const Head = chakra("th");
const Row = chakra("tr");

const STAGES = ["tested", "plan in", "chlorine spent"];

export function Outcomes({ outcomes }: { outcomes: PlanData["outcomes"] }) {
  const shown = outcomes.filter((o) => o.tested || o.needs);
  if (!shown.some((o) => o.tested)) return null;
  const stages = outcomes.some((o) => o.planned) ? STAGES : STAGES.slice(0, 1);
  return (
    <Box mt="16px" pt="10px" borderTop="1px solid" borderColor="hair" ml={{ base: 0, md: "112px" }} pl={{ base: 0, md: "12px" }}>
      <Flex gap="10px" align="baseline" wrap="wrap">
        <Text as="h3" fontSize="14px" fontWeight={700}>What comes of it</Text>
        {stages.length > 1 && <WhyLink reasonId="spent">why three</WhyLink>}
        {stages.length > 1 && (
          <Text fontSize="14px" color="muted">hollow: tested; solid: with the plan in; bar: once its chlorine is spent</Text>
        )}
      </Flex>
      <Table w="100%" fontSize="14px" mt="4px" css={{ borderCollapse: "collapse", fontVariantNumeric: "tabular-nums" }}>
        <thead>
          <tr>
            <Cell />
            <Cell display={{ base: "none", lg: "table-cell" }} w="36%" />
            {stages.map((stage) => (
              <Head key={stage} scope="col" textAlign="right" fontWeight={400} color="muted" pl="12px" lineHeight="1.15" verticalAlign="bottom">{stage}</Head>
            ))}
          </tr>
        </thead>
        <tbody>
          {shown.map((o) => {
            const slot = o.slot && stages.length > 1 ? <Slot slot={o.slot} bare /> : null;
            return (
              <Fragment key={o.id}>
                <tr>
                  <Head scope="row" textAlign="left" fontWeight={400} py="4px" pl={o.id === "langelier" ? "12px" : 0} whiteSpace={{ md: "nowrap" }}>
                    {o.label} <WhyLink reasonId={o.reason_id} />
                  </Head>
                  <Cell display={{ base: "none", lg: "table-cell" }} pl="16px" verticalAlign="middle">{slot}</Cell>
                  {o.needs ? (
                    <Cell colSpan={stages.length} textAlign="right" color="muted">{o.needs}</Cell>
                  ) : (
                    [o.tested, o.planned, o.spent].slice(0, stages.length).map((text, i) => (
                      <Cell key={STAGES[i]} textAlign="right" fontWeight={700} pl="12px">{text}</Cell>
                    ))
                  )}
                </tr>
                {slot && <Row display={{ base: "table-row", lg: "none" }}><Cell colSpan={stages.length + 2}>{slot}</Cell></Row>}
              </Fragment>
            );
          })}
        </tbody>
      </Table>
    </Box>
  );
}
