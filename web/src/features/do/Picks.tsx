// Several answers to one look: each a tap, all well the first of them.
import { Box, Flex } from "@chakra-ui/react";
import { useState } from "react";

import { type SheetStep } from "../../api/sheets";
import { ActButton } from "../../ui/controls";

type Props = { guide: NonNullable<SheetStep["guide"]>; answer: (value: string) => void };

export function Picks({ guide, answer }: Props) {
  const [chosen, setChosen] = useState<string[]>([]);
  const [fine, ...odd] = guide.choices;
  const toggle = (id: string) =>
    setChosen(chosen.includes(id) ? chosen.filter((one) => one !== id) : [...chosen, id]);
  return (
    <Box bg="paper" borderTop={{ base: "2px solid", lg: "none" }} borderColor="ink">
      <Flex wrap="wrap" gap="8px" px="16px" py="10px" role="group" aria-label={guide.question}>
        {odd.map(([id, label]) => (
          <ActButton
            key={id}
            type="button"
            look={chosen.includes(id!) ? "solid" : "line"}
            px="12px"
            fontWeight={400}
            aria-pressed={chosen.includes(id!)}
            onClick={() => toggle(id!)}
          >
            {label}
          </ActButton>
        ))}
      </Flex>
      <ActButton look="bar" onClick={() => answer(chosen.length ? chosen.join(",") : fine![0]!)}>
        {chosen.length ? `Note ${chosen.length === 1 ? "this" : `these ${chosen.length}`}` : fine![1]}
      </ActButton>
    </Box>
  );
}
