// What may stand beside what: bays with a wall between, dry goods over liquids, and what each wall keeps apart.
import { Box, Flex, Text } from "@chakra-ui/react";
import { Fragment } from "react";

import { type Schemas } from "../../api/client";
import { ColumnHead } from "../../ui/Page";
import { WhyLink } from "../../ui/WhyLink";

type Props = { places: Schemas["PlaceView"][]; apart: Schemas["ApartView"][] };
const HATCH = {
  background: "repeating-linear-gradient(-45deg, var(--chakra-colors-ink) 0 1.5px, transparent 1.5px 6px)",
};

export function Storage({ places, apart }: Props) {
  return (
    <Box>
      <ColumnHead title="What may stand together" note={<WhyLink reasonId="storage" />} />
      {places.map((place, i) => (
        <Fragment key={place.name}>
          {i > 0 && <Box h="12px" style={HATCH} aria-hidden />}
          <Box
            border="2px solid"
            borderColor="ink"
            borderTop={i > 0 ? "none" : undefined}
            borderBottom={i < places.length - 1 ? "none" : undefined}
          >
            <Text px="12px" pt="8px" fontWeight={700}>
              {place.name}
            </Text>
            <Board names={place.above} note="dry" last={place.below.length === 0} />
            <Board
              names={place.below}
              note={place.above.length ? "liquids below, in a tray" : "liquids, in a tray"}
              last
            />
          </Box>
        </Fragment>
      ))}
      {apart.length > 0 && (
        <Text fontWeight={700} mt="14px" mb="2px">
          Kept apart, because
        </Text>
      )}
      {apart.map((a) => (
        <Box
          key={a.one.join() + a.other.join()}
          borderTop="1px solid"
          borderColor="hair"
          py="6px"
          fontSize="14px"
        >
          <Text>
            <b>{a.harm}</b>: {a.one.join(", ")} with {a.other.join(", ")}
          </Text>
          <Text color="muted">{a.source}</Text>
        </Box>
      ))}
      <Text fontSize="14px" color="caution" mt="8px">
        Dry, locked, ventilated, upright; away from equipment. Labels and your fire code come first.
      </Text>
    </Box>
  );
}

function Board({ names, note, last }: { names: string[]; note: string; last: boolean }) {
  if (names.length === 0) return null;
  return (
    <Flex
      px="12px"
      py="6px"
      gap="12px"
      justify="space-between"
      align="end"
      borderBottom={last ? undefined : "1px solid"}
      borderColor="ink"
    >
      <Box fontSize="14px">
        {names.map((n) => (
          <Text key={n}>{n}</Text>
        ))}
      </Box>
      <Text fontSize="14px" color="muted" textAlign="right">
        {note}
      </Text>
    </Flex>
  );
}
