// The rail: an ink line down the page with clock times at its left; steps are rows on it, waits are hatched
// stretches, and the next act is the one persimmon notch. A step's row goes on right into the slots it moves.
import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";

import { type Step } from "../api/plans";
import { Amount } from "./Amount";
import "./pictures.css";
import { Slot } from "./Slot";
import { WhyLink } from "./WhyLink";

const COLUMNS = {
  base: "32px minmax(0,1fr)",
  md: "76px 24px minmax(0,1fr)",
  lg: "76px 24px minmax(0,388px) minmax(0,1fr)",
};

function Line({ mark, gap }: { mark?: ReactNode; gap?: boolean }) {
  return (
    <div className="rail-line">
      <i className={gap ? "wait" : undefined} />
      {mark}
    </div>
  );
}

function Mark({ kind, solid }: { kind: string; solid: boolean }) {
  const fill = solid ? "currentColor" : "var(--chakra-colors-paper)";
  return (
    <svg viewBox="0 0 14 14" className="rail-mark" aria-hidden>
      {kind === "retest" ? (
        <rect x="1" y="1" width="12" height="12" fill={fill} stroke="currentColor" strokeWidth="2" />
      ) : kind === "wait" ? (
        <path d="M2 1h10L7 7l5 6H2l5-6z" fill={fill} stroke="currentColor" strokeWidth="2" />
      ) : (
        <circle cx="7" cy="7" r="6" fill={fill} stroke="currentColor" strokeWidth="2" />
      )}
    </svg>
  );
}

/** A wait on the rail. */
export function Gap({ text }: { text: string }) {
  return (
    <li className="rail-gap">
      <Line gap />
      <p>{text}</p>
    </li>
  );
}

export type RowState = { done?: boolean; next?: boolean; late?: boolean };

type RowProps = RowState & { step: Step; note?: ReactNode; actions?: ReactNode; picture?: ReactNode };

/** One step of a plan on the rail. `next` makes it the persimmon one; `picture` stands behind its why. */
export function RailRow({ step, done, next, late, note, actions, picture }: RowProps) {
  const on = !!next;
  // On a phone the bar at the foot is the one persimmon area, so the row keeps its paper there.
  const tone = (plain: string) => (on ? { base: plain, md: "onAct" } : plain);
  const quiet = tone("muted");
  const retest = step.kind === "retest";
  const aside = !done && step.slots.length > 0 && (
    <Flex direction="column" gap="8px" pt={{ base: "8px", lg: "12px" }}>
      {step.slots.map((slot) => (
        <Slot key={slot.measure} slot={slot} />
      ))}
    </Flex>
  );
  const told = !done && !retest && (
    <Flex gap="10px" align="baseline" pt="6px" fontSize="14px" color="muted">
      <Text>{step.sentence}</Text>
      <WhyLink reasonId={step.reason_id} picture={picture} />
    </Flex>
  );
  return (
    <Grid
      as="li"
      templateColumns={COLUMNS}
      columnGap={{ base: "8px", md: "12px" }}
      listStyleType="none"
      data-step={step.key}
      data-next={on || undefined}
    >
      <Text
        display={{ base: "none", md: "block" }}
        gridColumn={1}
        textAlign="right"
        fontSize="14px"
        pt="10px"
        fontWeight={on ? 700 : 400}
        color={done ? "muted" : "ink"}
        lineHeight="1.25"
      >
        {step.clock}
      </Text>
      <Line mark={<Mark kind={step.kind} solid={!!done || on} />} />
      <Box gridColumn={{ base: 2, md: 3 }} minW={0}>
        <Box
          position="relative"
          bg={on ? { md: "act" } : undefined}
          color={tone("ink")}
          py={retest ? "8px" : "10px"}
          pl={{ base: "10px", md: "12px" }}
          pr="16px"
          clipPath={
            on
              ? {
                  base: undefined,
                  lg: "polygon(0 0, calc(100% - 14px) 0, 100% 50%, calc(100% - 14px) 100%, 0 100%)",
                }
              : undefined
          }
        >
          <Text display={{ md: "none" }} fontSize="14px" fontWeight={700}>
            {step.clock}
            {late ? " · waiting" : ""}
          </Text>
          {step.amount && !done && (
            <Amount
              amount={step.amount}
              title={[step.amount.exact, step.cost].filter(Boolean).join(" · ")}
              quiet={quiet}
            />
          )}
          <Flex justify="space-between" gap="12px" align="baseline">
            <Text as="h3" fontSize="16px" fontWeight={700} textDecoration={done ? "line-through" : undefined}>
              {done && step.amount ? `${step.amount.text} ` : ""}
              {step.title}
            </Text>
          </Flex>
          {note}
          {!done && (
            <>
              <Text fontSize="14px" color={quiet}>
                {step.how || step.sentence}
              </Text>
              {step.caution && (
                <Text fontSize="14px" color={tone("caution")} fontWeight={on ? 700 : 400}>
                  {step.caution}
                </Text>
              )}
              {step.warnings.map((warning) => (
                <Text
                  key={warning}
                  fontSize="14px"
                  fontWeight={700}
                  color={tone("ink")}
                  mt="4px"
                  pl="8px"
                  borderLeft="3px solid"
                >
                  {warning}
                </Text>
              ))}
              {actions}
            </>
          )}
        </Box>
        {!done && (
          <Box display={{ base: "block", lg: "none" }} pl="10px" pr="4px" className="rail-slots">
            {aside}
            {told}
          </Box>
        )}
      </Box>
      <Box
        gridColumn={4}
        display={{ base: "none", lg: "block" }}
        pl="8px"
        borderBottom={aside ? "1px solid" : undefined}
        borderColor="hair"
        pb={aside ? "10px" : 0}
      >
        {aside}
        {told}
      </Box>
    </Grid>
  );
}
