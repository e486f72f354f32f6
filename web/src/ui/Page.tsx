// A page: whose pool, one headline sentence, a rule, then the work.
import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";

type Props = {
  above: ReactNode;
  aside?: ReactNode;
  headline: string;
  below?: ReactNode;
  children: ReactNode;
};

export function Page({ above, aside, headline, below, children }: Props) {
  return (
    <Box
      px={{ base: "16px", md: "24px" }}
      pt={{ base: "12px", md: "20px" }}
      pb={{ base: "168px", md: "48px" }}
      maxW="1320px"
    >
      <Flex
        justify="space-between"
        gap="16px"
        fontSize="14px"
        color="muted"
        align="center"
        minH="32px"
        wrap="wrap"
      >
        <Box>{above}</Box>
        <Box textAlign="right">{aside}</Box>
      </Flex>
      <Heading
        as="h1"
        fontSize={{ base: "24px", md: "28px" }}
        lineHeight="1.2"
        fontWeight={800}
        letterSpacing="-0.3px"
        mt="4px"
        aria-live="polite"
      >
        {headline}
      </Heading>
      {below && (
        <Text as="div" mt="6px" fontSize="16px" fontWeight={700}>
          {below}
        </Text>
      )}
      <Box borderBottom="2px solid" borderColor="ink" mt="12px" mb="16px" />
      {children}
    </Box>
  );
}

/** A column's heading with its quiet note at the right. */
export function ColumnHead({ title, note }: { title: string; note?: ReactNode }) {
  return (
    <Flex justify="space-between" align="center" mb="4px" minH="32px" gap="8px">
      <Heading as="h2" fontSize="16px" fontWeight={700}>
        {title}
      </Heading>
      <Box fontSize="14px" color="muted">
        {note}
      </Box>
    </Flex>
  );
}

/** Waiting for the server, or an error, in plain words. */
export function Waiting({ error }: { error?: Error | null }) {
  return (
    <Box p="24px" role="status">
      <Text>{error ? error.message : "Reading the log …"}</Text>
    </Box>
  );
}
