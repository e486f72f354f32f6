// The run as it would begin: the level, what goes in first, how long and how much, by which school, what to buy.
import { Box, chakra, Flex, Grid, Text } from "@chakra-ui/react";

import { type Asked, type ClearUp } from "../../api/clearup";
import { Field, LinkButton, Select } from "../../ui/controls";
import { ColumnHead } from "../../ui/Page";
import { WhyLink } from "../../ui/WhyLink";

const WHY: Record<Asked["aim"], string> = {
  algae: "shock",
  shock: "shock",
  demand: "demand",
  incident: "incident",
};

type Props = { view: ClearUp; asked: Asked; change: (part: Partial<Asked>) => void; open: boolean };

export function TheRun({ view, asked, change, open }: Props) {
  const fit = view.bloom?.schools.find((s) => s.school.id === view.school);
  return (
    <>
      <ColumnHead
        title={asked.aim === "shock" ? "Tonight" : "The run"}
        note={<WhyLink reasonId={WHY[asked.aim]} />}
      />
      {asked.means === "chlorine" && view.first && (
        <Box borderLeft="4px solid" borderColor="ink" pl="14px" py="2px">
          <Text
            fontSize={{ base: "36px", lg: "44px" }}
            fontWeight={800}
            lineHeight="1.05"
            letterSpacing="-1px"
          >
            {view.first.amount}
          </Text>
          <Text fontSize="20px" fontWeight={700} lineHeight="1.2">
            {view.first.product}
          </Text>
          <Text>
            {view.first.when}; {view.first.rise}
          </Text>
          {view.first.opened && (
            <Text fontSize="14px" color="caution">
              {view.first.opened}
            </Text>
          )}
        </Box>
      )}
      {view.level && (
        <Text mt="10px">
          <b>Level {view.level}.</b> {view.level_why}
        </Text>
      )}
      {view.missing && <Text fontWeight={700}>{view.missing}</Text>}
      {view.foretold.length > 0 && !open && (
        <Grid templateColumns="auto minmax(0,1fr)" gap="4px 16px" mt="14px" aria-label="Foretold">
          {view.foretold.map(([what, words]) => (
            <Box key={what} display="contents">
              <Text color="muted">{what}</Text>
              <Text fontWeight={700}>{words}</Text>
            </Box>
          ))}
          <Text gridColumn="1 / -1" fontSize="14px" color="muted">
            In four of five such pools. It stays here as told, beside what happens.
          </Text>
        </Grid>
      )}
      {view.bloom && (
        <Box mt="18px">
          <Text fontWeight={700} mb="4px">
            By which school
          </Text>
          {view.bloom.schools.map((s) => (
            <School
              key={s.school.id}
              fit={s}
              chosen={s.school.id === view.school}
              choose={() => change({ school: s.school.id })}
            />
          ))}
          {fit && !fit.fits && (
            <Text fontSize="14px" color="caution" fontWeight={700}>
              {fit.why}
            </Text>
          )}
        </Box>
      )}
      {asked.means === "chlorine" && (
        <Box mt="14px">
          <Field label="With" error={view.refused || undefined}>
            {(p) => (
              <Select {...p} value={view.product_id} onChange={(e) => change({ product_id: e.target.value })}>
                {view.products.map(([id, name, refused]) => (
                  <option key={id} value={id!} disabled={!!refused}>
                    {name}
                    {refused ? ", not here" : ""}
                  </option>
                ))}
              </Select>
            )}
          </Field>
        </Box>
      )}
      <Known known={view.known} />
      {view.shopping.length > 0 && !open && asked.means === "chlorine" && <Shopping lines={view.shopping} />}
    </>
  );
}

const Row = chakra("button", {
  base: {
    display: "grid",
    gridTemplateColumns: "22px minmax(0,1fr)",
    gap: "8px",
    w: "100%",
    minH: "44px",
    textAlign: "left",
    alignItems: "start",
    py: "6px",
    bg: "transparent",
    color: "ink",
    cursor: "pointer",
    borderTop: "1px solid",
    borderColor: "hair",
  },
});

type SchoolProps = {
  fit: NonNullable<ClearUp["bloom"]>["schools"][number];
  chosen: boolean;
  choose: () => void;
};

function School({ fit, chosen, choose }: SchoolProps) {
  const { school } = fit;
  return (
    <Row type="button" aria-pressed={chosen} onClick={choose}>
      <svg width="16" height="16" viewBox="-8 -8 16 16" aria-hidden style={{ marginTop: 3 }}>
        <circle r="6.5" fill="none" stroke="currentColor" strokeWidth="2" />
        {chosen && <circle r="3" fill="currentColor" />}
      </svg>
      <Box>
        <Text fontWeight={chosen ? 800 : 400} lineHeight="1.25">
          {school.label[0]!.toUpperCase() + school.label.slice(1)}
        </Text>
        <Text fontSize="14px" color="muted" lineHeight="1.3">
          {chosen ? `${school.what} ${school.limits}` : ""} {fit.why}
        </Text>
      </Box>
    </Row>
  );
}

function Known({ known }: { known: ClearUp["known"] }) {
  if (known.length === 0) return null;
  return (
    <Text mt="14px" fontSize="14px" color="muted">
      From the log: {known.map(([label, value, read]) => `${label} ${value} (${read})`).join(", ")}.
    </Text>
  );
}

/** What to have at hand before it starts, against the Shelf. */
function Shopping({ lines }: { lines: ClearUp["shopping"] }) {
  return (
    <Box mt="18px">
      <Flex justify="space-between" align="baseline">
        <Text fontWeight={700}>To have before it starts</Text>
        <LinkButton className="noprint" onClick={() => window.print()}>
          print
        </LinkButton>
      </Flex>
      {lines.map((line) => (
        <Flex
          key={line.name}
          justify="space-between"
          gap="12px"
          borderTop="1px solid"
          borderColor="hair"
          py="6px"
          align="baseline"
        >
          <Box>
            <Text>
              {line.name}
              {line.maybe && (
                <Text as="span" color="muted">
                  {" "}
                  perhaps
                </Text>
              )}
            </Text>
            <Text fontSize="14px" color="muted" lineHeight="1.25">
              {line.why}
            </Text>
          </Box>
          <Box textAlign="right" flexShrink={0}>
            <Text fontWeight={700}>{line.amount}</Text>
            <Text fontSize="14px" fontWeight={line.buy ? 700 : 400} color={line.buy ? "caution" : "muted"}>
              {line.buy ? `buy ${line.buy}` : line.have}
            </Text>
          </Box>
        </Flex>
      ))}
    </Box>
  );
}
