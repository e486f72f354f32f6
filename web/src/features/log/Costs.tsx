// What the doses cost: this month, this season, and the twelve months as a row of bars.
import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link } from "react-router";

import { useCosts } from "../../api/log";
import { LinkButton } from "../../ui/controls";
import { ColumnHead } from "../../ui/Page";

const HEIGHT = 56;

/** folded: on a phone, one line that opens. */
export function Costs({ poolId, folded = false }: { poolId: string; folded?: boolean }) {
  const costs = useCosts(poolId).data;
  const [open, setOpen] = useState(false);
  if (!costs || (costs.months.length === 0 && costs.unpriced.length === 0)) return null;
  if (folded && !open)
    return costs.months.length === 0 ? null : (
      <LinkButton aria-expanded={false} onClick={() => setOpen(true)}>
        {costs.this_month} this month{costs.season && `, ${costs.season} since ${costs.season_since}`}
      </LinkButton>
    );
  const months = [...costs.months].reverse();
  return (
    <Box as="section" aria-label="What it cost">
      <ColumnHead title="What it cost" note="at the prices on the Shelf" />
      {costs.months.length > 0 && (
        <>
          <Flex gap="24px" align="baseline" wrap="wrap">
            <Text>
              <chakra.span fontSize="28px" fontWeight={700}>
                {costs.this_month}
              </chakra.span>{" "}
              this month
            </Text>
            {costs.season && (
              <Text>
                <chakra.span fontSize="20px" fontWeight={700}>
                  {costs.season}
                </chakra.span>{" "}
                since {costs.season_since}
              </Text>
            )}
          </Flex>
          <Flex
            role="img"
            aria-label={`By month: ${months.map((m) => `${m.month} ${m.cost}`).join(", ")}`}
            gap="4px"
            align="flex-end"
            h={`${HEIGHT}px`}
            mt="12px"
            borderBottom="2px solid"
            borderColor="ink"
          >
            {months.map((m) => (
              <Box
                key={m.month}
                flex="1"
                bg="ink"
                h={`${Math.max(m.share > 0 ? 1 : 0, m.share * (HEIGHT - 4))}px`}
                title={`${m.month}: ${m.cost}`}
              />
            ))}
          </Flex>
          <Flex justify="space-between" fontSize="14px" color="muted" mt="4px">
            <span>{months[0]?.month}</span>
            <span>{months[months.length - 1]?.month}</span>
          </Flex>
        </>
      )}
      {costs.unpriced.length > 0 && (
        <Text fontSize="14px" color="muted" mt="8px">
          Not counted, as nobody said what it costs: {costs.unpriced.join(", ")}.{" "}
          <Link to="/shelf">Say it on the Shelf</Link>
        </Text>
      )}
    </Box>
  );
}
