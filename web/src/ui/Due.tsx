// What is due, a line a kind of work: why, how long, and the one act that does it. Put off and skipped in its second place.
import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { v7 as uuid } from "uuid";

import { type DueLine, type DueTask, useBeginWalk, useSayOfTask, useTickTask, type Visit } from "../api/care";
import { type Problem } from "../api/client";
import { useDeleteEntry } from "../api/log";
import { useBeginGuide } from "../api/sheets";
import { ActButton, Field, Input, LinkButton, Notice } from "./controls";
import { WhyLink } from "./WhyLink";

const PLACES: Record<string, [to: string, label: string]> = {
  bench: ["/bench", "Type the test"],
  "clear-up": ["/clear-up", "Begin"],
  shelf: ["/shelf", "To the Shelf"],
  equipment: ["/pool/equipment", "Look at it"],
  log: ["/log", "Log it"],
};

/** Machines' guides; whatever else is begun is a walk. */
const GUIDES = ["filter", "cell", "feeder"];

/** What does a line: the way to where it is done, or one tick. */
export function useDueAct(poolId: string) {
  const walk = useBeginWalk(poolId);
  const guide = useBeginGuide(poolId);
  const tick = useTickTask();
  const say = useSayOfTask();
  const undo = useDeleteEntry();
  const go = useNavigate();
  const ids = useRef<Record<string, string>>({});
  const [last, setLast] = useState<{ id: string; title: string; word: string } | null>(null);
  const once = (name: string) => (ids.current[name] ??= uuid());
  const begin = (opens: string, days = 0) => {
    const sent = GUIDES.includes(opens)
      ? guide.mutateAsync({ id: once(opens), subject: opens })
      : walk.mutateAsync({ id: once(opens), kind: opens, days });
    void sent.then(
      (sheet) => {
        delete ids.current[opens];
        return go(`/do/${sheet.id}`);
      },
      () => undefined, // told on the page
    );
  };
  const done = (task: DueTask, minutes = "") => {
    const id = once(task.id);
    void tick.mutateAsync({ taskId: task.id, id, minutes }).then(
      () => {
        delete ids.current[task.id];
        setLast({ id, title: task.title, word: "done" });
      },
      () => undefined,
    );
  };
  const word = (task: DueTask, verb: "snooze" | "skip", value: string) => {
    const id = once(`${task.id} ${verb}`);
    void say.mutateAsync({ taskId: task.id, id, verb, value }).then(
      () => {
        delete ids.current[`${task.id} ${verb}`];
        setLast({ id, title: task.title, word: verb === "skip" ? "skipped" : "put off" });
      },
      () => undefined,
    );
  };
  const takeBack = () => last && undo.mutate(last.id, { onSuccess: () => setLast(null) });
  const failed = (walk.error ?? guide.error ?? tick.error ?? say.error ?? undo.error) as Problem | null;
  const busy = walk.isPending || guide.isPending || tick.isPending || say.isPending;
  return { begin, done, word, takeBack, last, failed, busy };
}

type Act = ReturnType<typeof useDueAct>;

/** A look is ticked as what it found. */
const ticked = (task: DueTask) => (task.looks ? "All well" : "Done");
const lowered = (title: string) => title.slice(0, 1).toLowerCase() + title.slice(1);

/** The act of a line as a button; look: where it stands. */
export function DueButton({ line, act, look }: { line: DueLine; act: Act; look: "onAct" | "line" | "bar" }) {
  const task = line.tasks[0]!;
  const place = PLACES[task.opens];
  if (place)
    return (
      <ActButton look={look} asChild>
        <Link to={place[0]}>{look === "bar" ? `${line.title}` : place[1]}</Link>
      </ActButton>
    );
  if (task.opens)
    return (
      <ActButton look={look} disabled={act.busy} onClick={() => act.begin(task.opens)}>
        {look === "bar" ? `Begin: ${lowered(line.title)}` : "Begin"}
      </ActButton>
    );
  return (
    <ActButton look={look} disabled={act.busy} onClick={() => act.done(task)}>
      {look === "bar" ? `${ticked(task)}: ${lowered(task.title)}` : ticked(task)}
    </ActButton>
  );
}

type Props = {
  visit: Visit;
  act: Act;
  first?: DueLine | undefined;
  /** How many lines there is room for; the rest stands on Care. */
  most?: number;
};

export function DueLines({ visit, act, first, most = Infinity }: Props) {
  const waits = visit.waits.slice(0, Math.max(0, most - visit.now.length));
  const more = Math.max(0, visit.now.length - most) + visit.waits.length - waits.length;
  return (
    <Box>
      {act.failed && (
        <Notice>{act.failed.at("medium") ?? act.failed.at("value") ?? act.failed.message}</Notice>
      )}
      {act.last && (
        <Flex role="status" gap="12px" align="baseline" py="8px">
          <Text>
            {act.last.title}: {act.last.word}.
          </Text>
          <LinkButton onClick={act.takeBack}>undo</LinkButton>
        </Flex>
      )}
      <Box as="ol" listStyleType="none" p={0} m={0}>
        {visit.now.slice(0, most).map((line) => (
          <Row key={line.tasks[0]!.id} line={line} visit={visit} act={act} next={line === first} />
        ))}
      </Box>
      {waits.length > 0 && (
        <>
          <Text fontSize="14px" color="muted" pt="12px" borderTop="1px solid" borderColor="hair">
            Over the {visit.has} min there are; these can wait longest
          </Text>
          <Box as="ol" listStyleType="none" p={0} m={0}>
            {waits.map((line) => (
              <Row key={line.tasks[0]!.id} line={line} visit={visit} act={act} />
            ))}
          </Box>
        </>
      )}
      {more > 0 && (
        <Text py="10px" borderTop="1px solid" borderColor="hair">
          <Link to="/care" style={{ textDecoration: "underline" }}>
            and {more} more on Care
          </Link>
        </Text>
      )}
    </Box>
  );
}

function Row({ line, visit, act, next = false }: { line: DueLine; visit: Visit; act: Act; next?: boolean }) {
  const [open, setOpen] = useState(false);
  const muted = next ? { base: "muted", md: "onAct" } : "muted";
  return (
    <Grid
      as="li"
      templateColumns={{ base: "minmax(0,1fr)", md: "92px minmax(0,1fr) auto" }}
      gap={{ base: "2px", md: "12px" }}
      borderTop="1px solid"
      borderColor="hair"
      bg={next ? { md: "act" } : undefined}
      color={next ? { base: "ink", md: "onAct" } : undefined}
      px={{ base: 0, md: "12px" }}
      py="12px"
      data-next={next || undefined}
    >
      <Text fontSize="14px" fontWeight={next || line.overdue ? 700 : 400} pt={{ md: "4px" }}>
        {line.when}
      </Text>
      <Box minW={0}>
        <Text fontSize="20px" fontWeight={700} lineHeight="1.25">
          {line.title}
        </Text>
        <Text fontSize="14px" color={muted}>
          about {line.minutes} min · {line.tasks[0]!.late}
        </Text>
        <WhyDue line={line} next={next} />
        <Flex gap="16px" align="baseline" wrap="wrap">
          <WhyLink reasonId={line.tasks[0]!.reason_id} onAct={next} />
          <LinkButton onAct={next} aria-expanded={open} onClick={() => setOpen(!open)}>
            {open ? "fold" : line.tasks.length > 1 ? "one by one, or not now" : "not now"}
          </LinkButton>
        </Flex>
        {open && (
          <Box color="ink" bg={next ? { md: "paper" } : undefined} px={next ? { md: "10px" } : 0} mt="6px">
            {line.tasks.map((task) => (
              <One key={task.id} task={task} visit={visit} act={act} many={line.tasks.length > 1} />
            ))}
          </Box>
        )}
      </Box>
      <Box
        // Opened, its one tick stands below with the minutes it took: two would be one too many.
        display={
          open && line.tasks.length === 1 && line.tasks[0]!.opens === ""
            ? "none"
            : { base: next ? "none" : "block", md: "block" }
        }
        mt={{ base: "8px", md: 0 }}
        justifySelf={{ base: "start", md: "end" }}
      >
        <DueButton line={line} act={act} look={next ? "onAct" : "line"} />
      </Box>
    </Grid>
  );
}

/** Why it is due, said at the line. */
function WhyDue({ line, next }: { line: DueLine; next: boolean }) {
  const task = line.tasks[0]!;
  const missed =
    task.missed > 0 ? ` Missed ${task.missed} more ${task.missed === 1 ? "time" : "times"}.` : "";
  return (
    <Text fontSize="14px" color={next ? { base: "ink", md: "onAct" } : "ink"}>
      {task.why}
      {missed} {line.parts && `With it: ${line.parts}.`}
    </Text>
  );
}

/** One duty of a line: ticked by itself, put off or skipped. */
function One({ task, visit, act, many }: { task: DueTask; visit: Visit; act: Act; many: boolean }) {
  const [why, setWhy] = useState("");
  const [minutes, setMinutes] = useState("");
  return (
    <Box py="8px" borderTop={many ? "1px solid" : undefined} borderColor="hair">
      {many && <Text fontWeight={700}>{task.title}</Text>}
      {many && (
        <Text fontSize="14px" color="muted">
          {task.why}
        </Text>
      )}
      <Flex gap="14px" wrap="wrap" align="end" mt="4px">
        {task.looks && (
          <Link to="/log" style={{ textDecoration: "underline", fontSize: 14 }}>
            not right: log what was found
          </Link>
        )}
        {task.ticks && (
          <>
            <Box w="92px" display={task.looks ? "none" : "block"}>
              <Field label="It took, min">
                {(p) => (
                  <Input
                    {...p}
                    inputMode="numeric"
                    placeholder={String(task.minutes)}
                    value={minutes}
                    onChange={(e) => setMinutes(e.target.value)}
                  />
                )}
              </Field>
            </Box>
            <ActButton look="line" disabled={act.busy} onClick={() => act.done(task, minutes)}>
              {ticked(task)}
            </ActButton>
          </>
        )}
        {visit.put_off.map(([label, day]) => (
          <LinkButton key={label} disabled={act.busy} onClick={() => act.word(task, "snooze", day)}>
            {label}
          </LinkButton>
        ))}
      </Flex>
      <Flex gap="14px" align="end" mt="8px" wrap="wrap">
        <Box flex="1 1 160px" maxW="280px">
          <Field label="Skip it this once, because">
            {(p) => <Input {...p} value={why} maxLength={200} onChange={(e) => setWhy(e.target.value)} />}
          </Field>
        </Box>
        <ActButton look="line" disabled={act.busy || !why.trim()} onClick={() => act.word(task, "skip", why)}>
          Skip
        </ActButton>
      </Flex>
    </Box>
  );
}
