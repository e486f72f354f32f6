// Any work under way, one step large: the rail beside it, or on a phone behind one line. Leaving abandons nothing.
import { Box, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { useRef, useState } from "react";
import { Link, useLocation, useNavigate, useParams } from "react-router";
import { v7 as uuid } from "uuid";

import { type Problem } from "../../api/client";
import { useDeleteEntry } from "../../api/log";
import { useMeta } from "../../api/meta";
import { useToday } from "../../api/plans";
import { type Sheet, type SheetStep, useBeginGuide, useSay, useSheet, useTickStep } from "../../api/sheets";
import { useUnsent } from "../../lib/outbox";
import { useWide } from "../../lib/wide";
import { BeginGuide } from "../../ui/BeginGuide";
import { ActButton, LinkButton, Notice } from "../../ui/controls";
import { OtherAmount } from "../../ui/OtherAmount";
import { Waiting } from "../../ui/Page";
import { SwimTonight } from "../../ui/SwimTonight";
import { Beside, useBeside } from "./Beside";
import { CheckForm } from "./CheckForm";
import { Curve } from "./Curve";
import { Findings } from "./Findings";
import { Large } from "./Large";
import { PlanParts } from "./PlanParts";
import { Rail } from "./Rail";
import { Contact, Criteria, ENDING, Foretold, Schools, Warnings, WhyItGrew } from "./RunParts";
import { StepAct } from "./StepAct";

export const titleOf = (step: SheetStep) =>
  step.guide?.title ??
  (step.plan?.amount
    ? `${step.plan.amount.text} ${step.plan.title.toLowerCase()}`
    : (step.plan?.title ?? ""));

export function DoPage() {
  const { id } = useParams();
  const sheet = useSheet(id!);
  if (!sheet.data) return <Waiting error={sheet.error} />;
  return <Player key={id} sheet={sheet.data} />;
}

function Player({ sheet }: { sheet: Sheet }) {
  const { hash } = useLocation();
  const wide = useWide();
  const meta = useMeta().data;
  const { say, why } = useSay(sheet.id);
  const unsent = useUnsent(sheet.id);
  const go = useNavigate();
  const tick = useTickStep();
  const undo = useDeleteEntry();
  const guide = useBeginGuide(sheet.pool_id);
  const others = (useToday(sheet.pool_id).data?.sheets ?? []).filter(
    (s) => s.id !== sheet.id && s.kind === "guide",
  );
  const [fork, setFork] = useState({ value: "", subject: "", ends: false });
  const ids = useRef<Record<string, string>>({});
  const beside = useBeside(sheet.pool_id, sheet.id);
  const [open, setOpen] = useState(false);
  const [typed] = useState<Record<string, string>>({});
  const at = sheet.steps.find((s) => s.key === decodeURIComponent(hash.slice(1)));
  const step = at ?? sheet.steps.find((s) => s.key === sheet.next_key) ?? sheet.steps.at(-1)!;
  // What only an answer to come may ask for is not counted.
  const sure = sheet.steps.filter((s) => s === step || !(s.if_needed || s.state === "skipped"));
  const number = sure.indexOf(step) + 1;
  const ended = sheet.state !== "under_way" && sheet.state !== "paused";
  const waits = unsent.filter((u) => u.key === step.key);
  // A timer started while the server is away runs from the device's own mark.
  const timer = waits.find((u) => u.verb === "timer");
  const until =
    step.ends_at ??
    (timer ? new Date(Date.parse(timer.at) + (step.guide?.minutes ?? 0) * 60_000).toISOString() : null);
  const closed = step.state === "done" || step.state === "skipped" || step.state === "missed";
  const left = sheet.steps.filter((s) => s.state !== "done" && s.state !== "skipped").length;
  const turn = step.state !== "later" || step.ready || !sheet.next_key;
  const acts = !closed && !ended && !sheet.earlier_rules && turn;
  const failed = (why ?? tick.error ?? undo.error) as Problem | null;
  const pick = (key: string) => {
    setOpen(false);
    void go(`#${encodeURIComponent(key)}`, { replace: true });
  };
  const pour = (amount?: string, unit?: string) => {
    const tickId = (ids.current[step.key] ??= uuid());
    void tick
      .mutateAsync({
        sheetId: sheet.id,
        key: step.key,
        id: tickId,
        ...(amount ? { amount, unit: unit! } : {}),
      })
      .then(() => delete ids.current[step.key])
      .then(
        () => go("#", { replace: true }),
        () => undefined,
      );
  };
  /** The sheet that follows is begun first: a choice without it would leave the person standing. */
  const decide = (value: string, then: string) => {
    const said = () => say({ key: step.key, verb: "decide", value });
    const ends = then.startsWith("end");
    const subject = ends ? then.slice("end:".length) : then;
    if (!subject) {
      said();
      return void go("#", { replace: true });
    }
    setFork({ value, subject, ends });
    const id = (ids.current[subject] ??= uuid());
    void guide.mutateAsync({ id, subject, ...(ends ? { insteadOf: sheet.id } : {}) }).then(
      (begun) => {
        said();
        delete ids.current[subject];
        return go(`/do/${begun.id}`);
      },
      () => undefined, // told above
    );
  };
  const run = sheet.run;
  // A walk's step of dosing is the plan's own next dose, where there is one.
  const dose =
    acts && (step.key === "doses" || step.key === "last") ? beside.find((l) => l.pours && l.free) : undefined;
  // A run's or a machine's test is typed where one stands; a walk's is the whole of the Bench.
  const typedHere = run || (sheet.kind === "guide" && !WALKS.includes(sheet.subject));
  const checks = acts && meta && typedHere && step.plan?.kind === "retest";
  const bar = dose ? (
    <ActButton
      look="bar"
      disabled={tick.isPending}
      onClick={() => {
        const id = (ids.current[dose.key] ??= uuid());
        void tick.mutateAsync({ sheetId: dose.sheet_id, key: dose.key, id }).then(
          () => delete ids.current[dose.key],
          () => undefined, // told above
        );
      }}
    >
      Poured {dose.title}
    </ActButton>
  ) : checks ? (
    <CheckForm
      key={step.key}
      poolId={sheet.pool_id}
      sheetId={sheet.id}
      step={step}
      kit={run?.method ?? "drops"}
      meta={meta}
      saved={() => void go("#", { replace: true })}
    />
  ) : (
    acts &&
    waits.every((u) => u.verb === "timer") && (
      <StepAct
        step={step}
        running={until !== null}
        error={why?.at("value")}
        typed={typed}
        held={step.held !== ""}
        say={(word) => {
          say(word);
          if (word.verb !== "timer") void go("#", { replace: true });
        }}
        decide={decide}
        pour={() => pour()}
      />
    )
  );
  const rail = <Rail sheet={sheet} at={step.key} pick={pick} />;
  return (
    <Box
      px={{ base: "16px", md: "24px" }}
      pt={{ base: "12px", md: "20px" }}
      pb={{ base: "230px", lg: "48px" }}
      maxW="1320px"
    >
      <Flex justify="space-between" align="center" fontSize="14px" color="muted" minH="32px" gap="16px">
        <Link to="/" style={{ textDecoration: "underline" }}>
          Close, it stays under way
        </Link>
        <Text>begun {sheet.begun}</Text>
      </Flex>
      <Heading as="h1" fontSize={{ base: "20px", lg: "28px" }} lineHeight="1.2" fontWeight={800}>
        {sheet.name}
        {ended
          ? ENDED[sheet.state]
          : run
            ? run.given_up
              ? ": given up"
              : run.over
                ? `: ${ENDING[run.aim]?.toLowerCase() ?? "over"}`
                : run.school_label
                  ? `, ${run.school_label}`
                  : ""
            : sheet.day_words
              ? `, ${sheet.day_words}: ${left} of ${sheet.steps.length} to do`
              : `, step ${number} of ${sure.length}`}
      </Heading>
      {run && !ended && (
        <Box mt="6px">
          <SwimTonight swim={run.swim} />
        </Box>
      )}
      <Box borderBottom="2px solid" borderColor="ink" mt="10px" mb="12px" />
      {sheet.earlier_rules && (
        <Box mb="12px">
          <Notice>{sheet.earlier_rules}</Notice>
        </Box>
      )}
      {failed && (
        <Box mb="12px">
          <Notice>{failed.message}</Notice>
        </Box>
      )}
      {sheet.notes && !ended && (
        <Text mb="10px" pl="10px" borderLeft="3px solid">
          Noted last time: “{sheet.notes}”
        </Text>
      )}
      {run && <Warnings warnings={run.warnings} />}
      {run?.changed.map((line) => (
        <Text key={line} mb="10px">
          {line}
        </Text>
      ))}
      <Flex direction={{ base: "column", lg: "row" }} gap={{ base: "8px", lg: "40px" }} align="start">
        <Box w={{ base: "100%", lg: run ? "380px" : "420px" }} flexShrink={0}>
          {wide ? (
            rail
          ) : (
            <>
              <LinkButton aria-expanded={open} onClick={() => setOpen(!open)}>
                {open ? "fold the steps" : `all ${sheet.steps.length} steps`}
              </LinkButton>
              {open && rail}
            </>
          )}
        </Box>
        <Box flex={1} minW={0} w="100%" maxW={{ lg: "640px" }}>
          {ended && (
            <Box mb="24px">
              <Text fontSize="20px">{OVER[sheet.state]}</Text>
              {sheet.outcome.map((line) => (
                <Text key={line} fontSize="20px" mt="8px" fontWeight={700}>
                  {line}
                </Text>
              ))}
              {sheet.left && (
                <Text fontSize="20px" mt="8px" color="caution" fontWeight={700}>
                  {sheet.left}
                </Text>
              )}
              <Flex gap="20px" mt="12px">
                {others[0] && (
                  <ActButton asChild>
                    <Link to={`/do/${others[0].id}`}>Go on: {others[0].name}</Link>
                  </ActButton>
                )}
                <ActButton look={others[0] ? "line" : "solid"} asChild>
                  <Link to="/">To Today</Link>
                </ActButton>
                <ActButton look="line" asChild>
                  <Link to="/log">To the log</Link>
                </ActButton>
              </Flex>
            </Box>
          )}
          {(!ended || at) && <Large step={step} until={until} pad={PADS.includes(sheet.subject)} />}
          {(!ended || at) && step.said && (
            <Flex gap="16px" align="baseline" mt="12px" color="muted">
              <Text>{step.said}</Text>
              {(step.said_id ?? step.done?.id) && step.done?.kind !== "water_test" && (
                <LinkButton onClick={() => undo.mutate((step.said_id ?? step.done?.id)!)}>undo</LinkButton>
              )}
            </Flex>
          )}
          {waits.length > 0 && (
            <Text role="status" mt="12px" fontWeight={700}>
              Kept on this device; it is sent as soon as Kumpan answers.
            </Text>
          )}
          {step.state === "later" && !step.ready && !ended && sheet.next_key !== step.key && (
            <Text mt="12px">
              {step.waits_for.length > 0
                ? `Not yet. First: ${step.waits_for.join("; ")}.`
                : "Not yet: what comes before it is not done."}{" "}
              <LinkButton onClick={() => void go("#", { replace: true })}>to the next step</LinkButton>
            </Text>
          )}
          {step.held && (
            <Box role="status" borderLeft="4px solid" borderColor="ink" pl="12px" mt="16px" fontSize="18px">
              <Text fontWeight={700}>
                Not now{step.held_until && `, from ${step.held_until}`}: {step.held}
              </Text>
            </Box>
          )}
          {bar && (
            <Box
              position={{ base: "fixed", lg: "static" }}
              left={0}
              right={0}
              bottom="64px"
              zIndex={15}
              mt={{ lg: "24px" }}
              maxW={{ lg: "480px" }}
            >
              {bar}
            </Box>
          )}
          {run && (
            <Box mt={{ base: "16px", lg: "28px" }}>
              <Curve curve={run.curve} width={wide ? 640 : 358} />
              <Grid templateColumns={{ base: "minmax(0,1fr)", lg: "1fr 1fr" }} gap="28px" mt="16px">
                <Criteria run={run} />
                <Contact lines={run.contact} />
                <Box>
                  <Foretold run={run} />
                  <Schools run={run} say={say} />
                </Box>
              </Grid>
              <WhyItGrew why={run.why} />
            </Box>
          )}
          {guide.error && (
            <Box mt="16px">
              <BeginGuide
                poolId={sheet.pool_id}
                subject={fork.subject}
                label="Begin it"
                insteadOf={fork.ends ? sheet.id : undefined}
                asking={guide.error as Problem}
                begun={() => say({ key: step.key, verb: "decide", value: fork.value })}
              />
            </Box>
          )}
          {sheet.day && (!ended || at) && (
            <PlanParts
              {...{ sheet, step, acts, ended, say }}
              error={why?.at("value")}
              stay={() => pick(step.key)}
            />
          )}
          <Findings found={sheet.found} />
          {!ended && sheet.kind === "guide" && <Beside lines={beside} />}
          {!ended && !sheet.earlier_rules && (
            <Flex gap="24px" mt="16px" wrap="wrap">
              {acts && meta && step.plan?.kind === "add" && (
                <OtherAmount
                  key={step.key}
                  step={step.plan}
                  meta={meta}
                  busy={tick.isPending}
                  error={tick.error as Problem | null}
                  pour={pour}
                />
              )}
              {acts && step.may_skip && (
                <LinkButton
                  onClick={() => {
                    say({ key: step.key, verb: "skip" });
                    void go("#", { replace: true });
                  }}
                >
                  skip this step
                </LinkButton>
              )}
              <LinkButton onClick={() => say({ verb: sheet.state === "paused" ? "resume" : "pause" })}>
                {sheet.state === "paused" ? "go on with it" : "lay it aside"}
              </LinkButton>
              {!run?.given_up && <LinkButton onClick={() => say({ verb: "give_up" })}>give it up</LinkButton>}
            </Flex>
          )}
        </Box>
      </Flex>
    </Box>
  );
}

/** Guides whose steps are drawn as the pad they leave. */
const PADS = ["filter", "lower", "cell", "feeder"];

const WALKS = ["weekly", "stop", "away", "back"];

const ENDED: Record<string, string> = {
  done: ": done",
  given_up: ": given up",
  superseded: ": overtaken by a newer test",
};

const OVER: Record<string, string> = {
  done: "All of it is done and written to the log.",
  given_up: "It was left, and what was done of it is kept.",
  superseded: "A newer test tells more than what was left of it.",
};
