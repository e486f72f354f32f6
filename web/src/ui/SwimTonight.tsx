// May we swim tonight? The answer, and what would change it.
import { Box, Flex, Text } from "@chakra-ui/react";

import { type Schemas } from "../api/client";
import { StateMark } from "./StateMark";
import { WhyLink } from "./WhyLink";

const WORDS = { yes: "fine", no: "act", "read first": "watch" } as const;

export function SwimTonight({ swim }: { swim: Schemas["SwimTonight"] }) {
  const word = swim.allowed === true ? "yes" : swim.allowed === false ? "no" : "read first";
  return (
    <Box as="section" aria-label="May we swim tonight?">
      <Flex gap="10px" align="baseline">
        <Box flexShrink={0}>
          <StateMark level={WORDS[word]} word={word} />
        </Box>
        <Text fontWeight={700}>{swim.sentence}</Text>
        <Box display={{ base: "none", md: "block" }}>
          <WhyLink reasonId="swim" />
        </Box>
      </Flex>
      {swim.changes && (
        <Text fontSize="14px" fontWeight={400}>
          {swim.changes}
        </Text>
      )}
    </Box>
  );
}
