// The steps of a sheet as a narrow rail: what is done, what is at hand, what is to come.
import { Box, chakra, Text } from "@chakra-ui/react";

import { useState } from "react";

import { type Sheet, type SheetStep } from "../../api/sheets";

const Row = chakra("button", {
  base: {
    display: "grid",
    gridTemplateColumns: "22px minmax(0,1fr) auto",
    alignItems: "center",
    gap: "10px",
    w: "100%",
    minH: "44px",
    textAlign: "left",
    cursor: "pointer",
    borderLeft: "2px solid",
    borderColor: "ink",
    bg: "transparent",
    color: "ink",
    pl: "0",
    pr: "8px",
    ml: "8px",
    "&[aria-current=step]": { fontWeight: 700, bg: "channel" },
  },
});

function Mark({ state }: { state: SheetStep["state"] }) {
  const fill = state === "done" ? "currentColor" : "var(--chakra-colors-paper)";
  return (
    <svg width="18" height="18" viewBox="-9 -9 18 18" style={{ marginLeft: "-10px" }} aria-hidden>
      <circle r="6.5" fill={fill} stroke="currentColor" strokeWidth="2" />
      {state === "skipped" && <path d="M-4 4L4 -4" stroke="currentColor" strokeWidth="2" />}
      {(state === "open" || state === "running") && <circle r="2.5" fill="currentColor" />}
    </svg>
  );
}

const WORDS: Record<string, string> = {
  done: "done",
  skipped: "skipped",
  running: "running",
  missed: "missed",
};

type Props = { sheet: Sheet; at: string; pick: (key: string) => void };

const KEPT = 3;

/** What closed a step, or when it comes: of a run what was read or seen. */
function aside(step: SheetStep, run: boolean) {
  if (run && step.state === "done" && step.done?.kind === "water_test") return step.done.detail.split(",")[0];
  const seen = run && step.guide?.choices.find(([id]) => id === step.value)?.[1];
  if (seen) return seen.split(",")[0]!.toLowerCase();
  if (step.day_words)
    return WORDS[step.state] ?? (step.if_needed ? "if needed" : step.guide?.helper ? "two people" : "");
  if (step.state === "later" && (step.plan || run)) return step.clock;
  return WORDS[step.state] ?? "";
}

/** A pour in words; of a plan with days of its own, what it is for first. */
function pourOf({ plan, day_words }: SheetStep) {
  const poured = [plan?.amount?.text, plan?.title].filter(Boolean).join(" ");
  return day_words && plan?.kind === "add" ? `${plan.sentence.split(". ")[0]}: ${poured}` : poured;
}

export function Rail({ sheet, at, pick }: Props) {
  const [all, setAll] = useState(false);
  const run = sheet.run !== null && sheet.run !== undefined;
  // Of a run of many days what lies behind is folded, but for the last few.
  const closed = sheet.steps.findIndex((s) => s.state !== "done" && s.state !== "skipped");
  const hidden = run && !all ? Math.max(0, (closed < 0 ? sheet.steps.length : closed) - KEPT) : 0;
  return (
    <Box as="ol" listStyleType="none" p={0} m={0} aria-label="Steps">
      {hidden > 1 && (
        <li>
          <Row type="button" color="muted" onClick={() => setAll(true)}>
            <Mark state="done" />
            <Text as="span">{hidden} done before, show them</Text>
          </Row>
        </li>
      )}
      {sheet.steps.slice(hidden > 1 ? hidden : 0).map((step, i, shown) => (
        <li key={step.key}>
          {step.day_words && step.day_words !== shown[i - 1]?.day_words && (
            <Text
              fontSize="14px"
              fontWeight={700}
              borderLeft="2px solid"
              ml="8px"
              pl="12px"
              pt="12px"
              pb="2px"
            >
              {step.day_words}
            </Text>
          )}
          <Row
            type="button"
            aria-current={step.key === at ? "step" : undefined}
            color={step.state === "done" || step.state === "skipped" ? "muted" : "ink"}
            onClick={() => pick(step.key)}
          >
            <Mark state={step.state} />
            <Text as="span" lineHeight="1.25">
              {step.guide?.title ?? pourOf(step)}
            </Text>
            <Text as="span" fontSize="14px" color="muted">
              {aside(step, run)}
            </Text>
          </Row>
        </li>
      ))}
    </Box>
  );
}
