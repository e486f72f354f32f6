// A question with its answers as plates to press, drawn where a drawing says more.
import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";

import { Picture } from "./Pictures";

const Plate = chakra("button", {
  base: {
    minH: "44px",
    px: "10px",
    py: "6px",
    textAlign: "left",
    display: "flex",
    alignItems: "center",
    gap: "10px",
    bg: "transparent",
    color: "ink",
    border: "1px solid",
    borderColor: "muted",
    borderRadius: "mark",
    fontSize: "16px",
    lineHeight: "1.2",
    cursor: "pointer",
    "&[aria-pressed=true]": { bg: "ink", color: "paper", borderColor: "ink", fontWeight: 700 },
    _disabled: { color: "muted", cursor: "not-allowed" },
  },
});

type Choice = { id: string; label: string };
type Props = {
  ask: string;
  name: string;
  choices: Choice[];
  value: string;
  pick: (id: string) => void;
  note?: ReactNode;
  columns?: boolean;
};

export function Pick({ ask, name, choices, value, pick, note, columns = false }: Props) {
  return (
    <Box as="fieldset" border="none" p={0} m={0} minW={0}>
      <Text as="legend" fontWeight={700} mb="6px" p={0}>
        {ask}
      </Text>
      <Flex gap="8px" wrap="wrap" direction={columns ? "column" : "row"}>
        {choices.map((c) => (
          <Plate
            key={c.id}
            type="button"
            aria-pressed={value === c.id}
            onClick={() => pick(value === c.id ? "" : c.id)}
          >
            <Picture of={`${name}:${c.id}`} />
            {c.label}
          </Plate>
        ))}
      </Flex>
      {note}
    </Box>
  );
}
