// How often what was foretold of a pool came out, a line a measure.
import { Box, Flex, Text } from "@chakra-ui/react";

import { type Ahead, useAhead } from "../api/forecast";

const AIM = 80; // a span that is to hold four in five

export function Scores({ ahead }: { ahead: Ahead }) {
  return (
    <Box>
      {ahead.scores.map((s) => (
        <Box key={s.label} py="6px" borderBottom="1px solid" borderColor="hair">
          <Flex justify="space-between" gap="12px" align="baseline">
            <Text>{s.label}</Text>
            <Text fontWeight={700} textAlign="right">
              {s.shown}
            </Text>
          </Flex>
          {s.share !== null && (
            <Box position="relative" h="8px" mt="3px" bg="channel" role="presentation">
              <Box position="absolute" left={0} top="2px" h="4px" bg="ink" w={`${s.share * 100}%`} />
              <Box position="absolute" left={`${AIM}%`} top={0} h="8px" w="2px" bg="ink" />
            </Box>
          )}
          {(s.void || s.wider) && (
            <Text fontSize="14px" color="muted">
              {[s.void, s.wider].filter(Boolean).join("; ")}
            </Text>
          )}
        </Box>
      ))}
      <Text fontSize="14px" color="muted" mt="8px">
        {ahead.score_note}
      </Text>
    </Box>
  );
}

/** The same, read when it is looked at. */
export function ScoresOf({ poolId }: { poolId: string }) {
  const ahead = useAhead(poolId).data;
  return ahead ? (
    <Box mt="16px">
      <Scores ahead={ahead} />
    </Box>
  ) : null;
}
