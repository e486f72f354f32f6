// An amount in the measure in one's hand: large numbers, the exact figure small beside them.
import { Flex, Text, type TextProps } from "@chakra-ui/react";

import { type Schemas } from "../api/client";

export function Amount({
  amount,
  title,
  quiet = "muted",
}: {
  amount: Schemas["AmountView"];
  title?: string | undefined;
  quiet?: TextProps["color"];
}) {
  return (
    <Flex align="baseline" gap="8px" wrap="wrap">
      {amount.parts.map((part) => (
        <Flex key={part.unit} align="baseline" gap="6px">
          <Text
            as="span"
            fontSize={{ base: "36px", md: "44px" }}
            lineHeight="1.05"
            fontWeight={800}
            letterSpacing="-0.5px"
          >
            {part.number}
          </Text>
          <Text as="span" fontSize="20px">
            {part.unit}
          </Text>
        </Flex>
      ))}
      <Text as="span" fontSize="14px" color={quiet} ml="auto">
        {title ?? amount.exact}
      </Text>
    </Flex>
  );
}
