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
  if (step.state === "later" && (step.plan || run)) return step.clock;
  return WORDS[step.state] ?? "";
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
      {sheet.steps.slice(hidden > 1 ? hidden : 0).map((step) => (
        <li key={step.key}>
          <Row
            type="button"
            aria-current={step.key === at ? "step" : undefined}
            color={step.state === "done" || step.state === "skipped" ? "muted" : "ink"}
            onClick={() => pick(step.key)}
          >
            <Mark state={step.state} />
            <Text as="span" lineHeight="1.25">
              {step.guide?.title ?? [step.plan?.amount?.text, step.plan?.title].filter(Boolean).join(" ")}
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
