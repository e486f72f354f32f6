// An amount in the measure in one's hand: large numbers, the exact figure small beside them.
import { Flex, Text } from "@chakra-ui/react";

import type { Schemas } from "../api/client";

export function Amount({ amount, title, onAct }: { amount: Schemas["AmountView"]; title?: string; onAct?: boolean }) {
  return (
    <Flex align="baseline" gap="8px" wrap="wrap">
      {amount.parts.map((part) => (
        <Flex key={part.unit} align="baseline" gap="6px">
          <Text as="span" fontSize={{ base: "36px", md: "44px" }} lineHeight="1.05" fontWeight={800} letterSpacing="-0.5px">
            {part.number}
          </Text>
          <Text as="span" fontSize="20px">{part.unit}</Text>
        </Flex>
      ))}
      <Text as="span" fontSize="14px" color={onAct ? "onAct" : "muted"} ml="auto">{title ?? amount.exact}</Text>
    </Flex>
  );
}
