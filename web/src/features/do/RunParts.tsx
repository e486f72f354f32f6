// What stands beside a run's steps: what goes wrong, what ends it, what was foretold, why it grew.
import { Box, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";

import { type Run } from "../../api/clearup";
import { type Word } from "../../api/sheets";
import { LinkButton } from "../../ui/controls";
import { StateMark } from "../../ui/StateMark";

export function Warnings({ warnings }: { warnings: Run["warnings"] }) {
  return (
    <>
      {warnings.map((w) => (
        <Box
          key={w.id}
          role="status"
          borderLeft="4px solid"
          borderColor="caution"
          pl="12px"
          py="4px"
          mb="12px"
        >
          <Text color="caution" fontWeight={700}>
            {w.what}
          </Text>
          <Text>{w.next}</Text>
        </Box>
      ))}
    </>
  );
}

export const ENDING: Record<string, string> = {
  algae: "The kill is over",
  demand: "It holds",
  incident: "A row of the table is met",
};

/** After an incident: the time between each two readings, and what counts of it. */
export function Contact({ lines }: { lines: Run["contact"] }) {
  if (lines.length === 0) return null;
  return (
    <Box mt="16px">
      <Text fontWeight={700} mb="4px">
        What counted
      </Text>
      {lines.map((line) => (
        <Grid
          key={line.when}
          templateColumns="minmax(0,1fr) auto"
          gap="8px"
          borderTop="1px solid"
          borderColor="hair"
          py="6px"
          fontSize="14px"
        >
          <Text fontVariantNumeric="tabular-nums">{line.when}</Text>
          <Text fontWeight={line.why ? 400 : 700} color={line.why ? "muted" : "ink"} textAlign="right">
            {line.why ? `none: ${line.why}` : line.counts}
          </Text>
        </Grid>
      ))}
    </Box>
  );
}

/** What ends the kill, each with a word and a shape. */
export function Criteria({ run }: { run: Run }) {
  if (run.criteria.length === 0) return null;
  return (
    <Box>
      <Text fontWeight={700} mb="4px">
        {run.over ? ENDING[run.aim] : "It is over when"}
      </Text>
      {run.criteria.map((c) => (
        <Grid
          key={c.id}
          templateColumns="minmax(0,1fr) auto"
          gap="8px"
          borderTop="1px solid"
          borderColor="hair"
          py="6px"
        >
          <Box>
            <Text lineHeight="1.25">{c.label}</Text>
            <Text fontSize="14px" color="muted">
              {c.words}
            </Text>
          </Box>
          <StateMark level={c.met ? "fine" : "watch"} word={c.met ? "met" : "not yet"} />
        </Grid>
      ))}
    </Box>
  );
}

/** What was foretold at the start, beside what it came to. */
export function Foretold({ run }: { run: Run }) {
  if (run.foretold.length === 0) return null;
  return (
    <Box mt="16px">
      <Grid templateColumns="minmax(0,1fr) auto auto" gap="2px 14px" fontSize="14px">
        <Text fontWeight={700} fontSize="16px">
          Foretold
        </Text>
        <Text color="muted">at the start</Text>
        <Text color="muted" textAlign="right">
          so far
        </Text>
        {run.foretold.map(([what, told, came]) => (
          <Box key={what} display="contents">
            <Text>{what}</Text>
            <Text>{told}</Text>
            <Text textAlign="right" fontWeight={700}>
              {came}
            </Text>
          </Box>
        ))}
      </Grid>
    </Box>
  );
}

type SchoolsProps = { run: Run; say: (word: Word) => void };

/** Another school, or another kind of algae, from here on. */
export function Schools({ run, say }: SchoolsProps) {
  const [open, setOpen] = useState(false);
  if (run.schools.length === 0) return null;
  return (
    <Box mt="16px">
      <Text mb="4px">
        Led as <b>{run.kind_label.toLowerCase()}</b> algae.{" "}
        {run.kinds.map((k) => (
          <LinkButton key={k.id} mr="10px" onClick={() => say({ key: "cause", verb: "decide", value: k.id })}>
            it is {k.label.toLowerCase()}
          </LinkButton>
        ))}
      </Text>
      <Text>
        By <b>{run.school_label}</b>.{" "}
        <LinkButton aria-expanded={open} onClick={() => setOpen(!open)}>
          change the school
        </LinkButton>
      </Text>
      {open &&
        run.schools
          .filter((s) => s.school.id !== run.school)
          .map((s) => (
            <Box key={s.school.id} fontSize="14px" mt="4px">
              <Text>
                {s.school.what} {s.why}
              </Text>
              <LinkButton
                onClick={() => {
                  say({ key: "school", verb: "decide", value: s.school.id });
                  setOpen(false);
                }}
              >
                go on with {s.school.label}
              </LinkButton>
            </Box>
          ))}
    </Box>
  );
}

/** Why it grew, by the log, and what to change. */
export function WhyItGrew({ why }: { why: Run["why"] }) {
  if (why.length === 0) return null;
  return (
    <Box mt="20px">
      <Text fontWeight={700}>What the log says about why</Text>
      {why.map((w) => (
        <Box key={w.found} borderTop="1px solid" borderColor="hair" py="8px">
          <Text>{w.found}</Text>
          <Text fontWeight={700}>{w.change}</Text>
          {w.follow_up && (
            <Text fontSize="14px" color="muted">
              Follow up: {w.follow_up}
            </Text>
          )}
        </Box>
      ))}
    </Box>
  );
}
