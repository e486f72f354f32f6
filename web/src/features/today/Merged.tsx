// All that is under way in one order: what may be done now first, what waits with its reason. Never one sheet under another.
import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { Link } from "react-router";

import { type Sheet, type TodayLine } from "../../api/sheets";
import { ActButton } from "../../ui/controls";
import { WhyLink } from "../../ui/WhyLink";

type Props = { lines: TodayLine[]; more: number; aside: Sheet[] };

export function Merged({ lines, more, aside }: Props) {
  const first = lines.find((l) => l.free);
  return (
    <Box as="ol" listStyleType="none" p={0} m={0}>
      {lines.map((line) => {
        const on = line === first;
        return (
          <Grid
            as="li"
            key={`${line.sheet_id} ${line.key}`}
            templateColumns={{ base: "minmax(0,1fr)", md: "76px minmax(0,1fr) auto" }}
            gap={{ base: "2px", md: "12px" }}
            alignItems="center"
            borderTop="1px solid"
            borderColor="hair"
            bg={on ? { md: "act" } : undefined}
            color={on ? { base: "ink", md: "onAct" } : undefined}
            px={{ base: 0, md: "12px" }}
            py="12px"
            data-next={on || undefined}
          >
            <Text fontSize="14px" fontWeight={on ? 700 : 400}>
              {line.state === "running" ? "running" : line.held_until || line.clock}
            </Text>
            <Box>
              <Text fontSize="14px" color={on ? { base: "muted", md: "onAct" } : "muted"}>
                {line.sheet}
              </Text>
              <Link to={`/do/${line.sheet_id}#${line.key}`}>
                <Text fontSize="20px" fontWeight={700} lineHeight="1.25" textDecoration="underline">
                  {line.title}
                </Text>
              </Link>
              {line.held && (
                <Flex gap="10px" align="baseline" fontSize="14px" wrap="wrap">
                  <Text>waits: {line.held}</Text>
                  <WhyLink reasonId="filter_wash" />
                </Flex>
              )}
            </Box>
            {on && (
              <Box display={{ base: "none", md: "block" }}>
                <ActButton look="onAct" asChild>
                  <Link to={`/do/${line.sheet_id}#${line.key}`}>Go on</Link>
                </ActButton>
              </Box>
            )}
          </Grid>
        );
      })}
      {aside.map((sheet) => (
        <Flex
          as="li"
          key={sheet.id}
          borderTop="1px solid"
          borderColor="hair"
          py="12px"
          px={{ base: 0, md: "12px" }}
          gap="16px"
          align="baseline"
        >
          <Text color="muted">{sheet.earlier_rules || `${sheet.name}, laid aside`}</Text>
          <Link to={`/do/${sheet.id}`} style={{ textDecoration: "underline" }}>
            {sheet.earlier_rules ? "look at it" : "take it up again"}
          </Link>
        </Flex>
      ))}
      {more > 0 && (
        <Text as="li" py="10px" color="muted" borderTop="1px solid" borderColor="hair">
          and {more} more
        </Text>
      )}
    </Box>
  );
}
