// What follows a plan's steps: folded lines that the next tests decide, and what the whole way takes. Nothing to tick.
import { Box, Flex, Text } from "@chakra-ui/react";
import { memo, useState } from "react";

import { LinkButton } from "./controls";
import { ColumnHead } from "./Page";
import { WhyLink } from "./WhyLink";

type Later = { clock: string; sentence: string };
type Total = { name: string; amount: string; missing?: string };

export const Then = memo(function Then({ later, totals }: { later: Later[]; totals: Total[] }) {
  const [open, setOpen] = useState(false);
  if (later.length === 0) return null;
  return (
    <Box mt="20px" ml={{ base: 0, md: "124px" }} maxW="620px">
      <ColumnHead
        title="Then, as the tests read"
        note={
          <Flex gap="12px" align="center">
            <WhyLink reasonId="visit">why not now</WhyLink>
            <LinkButton aria-expanded={open} onClick={() => setOpen(!open)}>
              {open ? "fold" : `show ${later.length}`}
            </LinkButton>
          </Flex>
        }
      />
      {open && (
        <Box as="ul" p={0} m={0}>
          {later.map((one) => (
            <Flex
              as="li"
              key={one.sentence}
              listStyleType="none"
              borderTop="1px solid"
              borderColor="hair"
              py="6px"
              gap="12px"
              direction={{ base: "column", sm: "row" }}
            >
              <Text fontSize="14px" color="muted" flex={{ sm: "0 0 96px" }}>
                {one.clock}
              </Text>
              <Text fontSize="14px">{one.sentence}</Text>
            </Flex>
          ))}
        </Box>
      )}
      {totals.length > 0 && (
        <Box fontSize="14px" mt="10px">
          <Text fontWeight={700}>To have at hand for the whole way</Text>
          {totals.map((line) => (
            <Text key={line.name}>
              {line.name}: {line.amount}.{line.missing && <b> {line.missing}</b>}
            </Text>
          ))}
        </Box>
      )}
    </Box>
  );
});
