// Today: the pool's run sheet. What is due, steps under way with their waits, what was tested last.
import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { Fragment, useRef } from "react";
import { Link } from "react-router";
import { v7 as uuid } from "uuid";

import { Problem, type Schemas } from "../../api/client";
import { useDeleteEntry } from "../../api/log";
import { type Meta, useMeta } from "../../api/meta";
import { useToday } from "../../api/plans";
import { type Sheet, type SheetStep, useTickStep } from "../../api/sheets";
import { Bar } from "../../ui/Bar";
import { ActButton, LinkButton, Notice } from "../../ui/controls";
import { OtherAmount } from "../../ui/OtherAmount";
import { ColumnHead, Page, Waiting } from "../../ui/Page";
import { PoolSwitch, usePool } from "../../ui/PoolSwitch";
import { Gap, RailRow } from "../../ui/Rail";
import { StateMark } from "../../ui/StateMark";
import { SwimTonight } from "../../ui/SwimTonight";
import { Then } from "../../ui/Then";
import { WhyLink } from "../../ui/WhyLink";
import { BeginGuide, CLEAN_FILTER } from "../../ui/BeginGuide";
import { DueButton, DueLines, useDueAct } from "../../ui/Due";
import { Merged } from "./Merged";
import { ToCome } from "./ToCome";

/** The days ahead in one line, where they are from, or why there is none. */
function Weather({ weather }: { weather: Schemas["WeatherView"] }) {
  return (
    <Box mt="12px" fontSize="14px" as="section" aria-label="Weather">
      {weather.line && <Text>{weather.line}</Text>}
      <Text color="muted">{[weather.problem, weather.label].filter(Boolean).join(" ")}</Text>
    </Box>
  );
}

type Ticking = { sheetId: string; step: SheetStep; amount?: string; unit?: string };

/** One id a step until it is acknowledged: pressing again after a lost answer sends the same tick. */
function useTicks() {
  const ids = useRef<Record<string, string>>({});
  const sent = useTickStep();
  const tick = ({ sheetId, step, amount, unit }: Ticking) => {
    const name = `${sheetId} ${step.key}`;
    const id = (ids.current[name] ??= uuid());
    void sent.mutateAsync({ sheetId, key: step.key, id, ...(amount ? { amount, unit: unit! } : {}) }).then(
      () => delete ids.current[name],
      () => undefined, // told on the page
    );
  };
  return { tick, sent };
}

const verbOf = (step: NonNullable<SheetStep["plan"]>) =>
  step.kind === "add" ? `Poured ${step.amount?.text}` : step.kind === "retest" ? "Type the test" : "Done";

export function TodayPage() {
  const { pool, choose, pools } = usePool();
  const today = useToday(pool?.id);
  const meta = useMeta().data;
  const { tick, sent } = useTicks();
  const undo = useDeleteEntry();
  const act = useDueAct(pool?.id ?? "");
  if (pools.data?.length === 0) return <NoPool />;
  if (!pool || !today.data || !meta) return <Waiting error={pools.error ?? today.error} />;
  const { sheets, headline, last_test: last } = today.data;
  // A plan alone is shown whole; with anything else under way, all of it in one order.
  const plan = sheets.find((s) => s.kind === "plan");
  const alone = sheets.length === 1 && plan?.state === "under_way" ? plan : undefined;
  const next = alone?.steps.find((s) => s.key === alone.next_key);
  const first = today.data.lines.find((l) => l.free);
  const due = today.data.visit.now[0];
  const failed = (sent.error ?? undo.error) as Problem | null;
  return (
    <Page
      above={<PoolSwitch pool={pool} pools={pools.data ?? []} choose={choose} />}
      aside={today.data.clock}
      headline={headline}
      below={
        <>
          {today.data.swim ? (
            <SwimTonight swim={today.data.swim} />
          ) : (
            plan && (
              <Flex gap="12px" align="baseline" wrap="wrap">
                <Text>{plan.swim}</Text>
                <WhyLink reasonId="swim" />
              </Flex>
            )
          )}
          {today.data.coming && <ToCome sentence={today.data.coming.sentence} poolId={pool.id} />}
        </>
      }
    >
      <Grid templateColumns={{ base: "minmax(0,1fr)", lg: "300px minmax(0,1fr)" }} gap="20px">
        <Box order={{ base: 2, lg: 1 }}>
          <ColumnHead
            title="The water now"
            note={
              <>
                read, or estimated <WhyLink reasonId="present" />
              </>
            }
          />
          {last ? (
            today.data.water_now.map((r) => (
              <Grid
                key={r.measure}
                templateColumns="minmax(0,1fr) auto 84px"
                borderBottom="1px solid"
                borderColor="hair"
                py="6px"
                alignItems="center"
                gap="0 8px"
              >
                <Box>
                  <Text>{r.label}</Text>
                  <Text fontSize="14px" color="muted" lineHeight="1.2">
                    {r.read}
                  </Text>
                </Box>
                <Box textAlign="right">
                  <Text fontSize="20px" fontWeight={700} lineHeight="1.2">
                    {r.shown}
                  </Text>
                  <Text fontSize="14px" color="muted" lineHeight="1.2">
                    {r.span}
                  </Text>
                </Box>
                <Box pl="8px">
                  <StateMark level={r.level} word={r.level === "none" ? "" : r.word} />
                </Box>
              </Grid>
            ))
          ) : (
            <Text color="muted">No test yet.</Text>
          )}
          <Text mt="12px" fontWeight={700}>
            {today.data.test_due_words}
            {last && `, last tested ${last.day.toLowerCase()}`}
          </Text>
          {today.data.worth_most && <Text fontWeight={700}>{today.data.worth_most}</Text>}
          <Text fontSize="14px">
            <Link to="/care" style={{ textDecoration: "underline" }}>
              How often, and what else comes round
            </Link>
          </Text>
          <Weather weather={today.data.weather} />
          {today.data.volume_offer && (
            <Box mt="12px" mb="12px" borderLeft="2px solid" borderColor="ink" pl="10px" fontSize="14px">
              <Text fontWeight={700}>Your log proves how much water it holds</Text>
              <Text>
                {today.data.volume_offer}{" "}
                <Link to="/pool" style={{ textDecoration: "underline" }}>
                  Look, and decide
                </Link>
              </Text>
            </Box>
          )}
        </Box>
        <Box minW={0} order={{ base: 1, lg: 2 }}>
          <ColumnHead
            title={sheets.length ? "Under way" : due ? "Due" : "Nothing under way"}
            note={
              alone
                ? `accepted ${alone.begun}`
                : sheets.length > 1
                  ? `${sheets.length} in one order`
                  : due && !sheets.length
                    ? `about ${today.data.visit.minutes} of ${today.data.visit.has} min`
                    : ""
            }
          />
          {failed && <Notice>{failed.message}</Notice>}
          {plan?.earlier_rules && (
            <Box mb="12px">
              <Notice>{plan.earlier_rules}</Notice>
              <Box mt="8px">
                <ActButton asChild>
                  <Link to="/bench">Test and dose</Link>
                </ActButton>
              </Box>
            </Box>
          )}
          {alone ? (
            <Box as="ol" p={0} m={0}>
              {alone.steps.map((s) => {
                const isNext = s === next && !alone.earlier_rules && !s.held;
                return (
                  <Fragment key={s.key}>
                    <RailRow
                      step={s.plan!}
                      done={s.state === "done" || s.state === "skipped"}
                      next={isNext}
                      late={s.late}
                      note={
                        s.done ? (
                          <Flex gap="12px" fontSize="14px" color="muted" align="baseline" wrap="wrap">
                            <Text>
                              {s.done.kind === "water_test"
                                ? "tested"
                                : `${s.done.title}, ${s.done.day.toLowerCase()} ${s.done.clock}`}
                            </Text>
                            {s.done.kind !== "water_test" && (
                              <LinkButton onClick={() => undo.mutate(s.done!.id)}>undo</LinkButton>
                            )}
                          </Flex>
                        ) : s.held ? (
                          <Text fontSize="14px" fontWeight={700}>
                            waits{s.held_until && ` until ${s.held_until}`}: {s.held}
                          </Text>
                        ) : (
                          s.said && (
                            <Text fontSize="14px" color="muted">
                              {s.said}
                            </Text>
                          )
                        )
                      }
                      actions={
                        alone.earlier_rules || s.state === "skipped" ? undefined : (
                          <TickForm
                            key={s.key}
                            sheet={alone}
                            state={s}
                            next={isNext}
                            meta={meta}
                            busy={sent.isPending}
                            onTick={tick}
                            error={failed}
                          />
                        )
                      }
                    />
                    {s.plan!.gap && <Gap text={s.plan!.gap} />}
                  </Fragment>
                );
              })}
            </Box>
          ) : sheets.length > 0 ? (
            <Merged
              lines={today.data.lines}
              more={today.data.more_lines}
              aside={sheets.filter((s) => s.state === "paused" || s.earlier_rules)}
            />
          ) : today.data.visit.now.length > 0 ? null : (
            <Box maxW="520px">
              <Text fontSize="16px" mb="16px">
                Test the water and the Bench works out what it needs, in what order and how much.
              </Text>
              <ActButton asChild>
                <Link to="/bench">Test and dose</Link>
              </ActButton>
            </Box>
          )}
          {due && (
            <Box mt={sheets.length ? "20px" : 0} className="noprint">
              {sheets.length > 0 && (
                <ColumnHead title="Due besides" note={`about ${today.data.visit.minutes} min`} />
              )}
              <DueLines
                visit={today.data.visit}
                act={act}
                first={sheets.length ? undefined : due}
                most={Math.max(1, 7 - today.data.lines.length)}
              />
              {today.data.visit.bring.length > 0 && (
                <Text fontSize="14px" mt="10px">
                  Bring: {today.data.visit.bring.join(", ")}.
                </Text>
              )}
            </Box>
          )}
          {plan && <Then later={plan.later} totals={plan.totals} />}
          {alone && !alone.earlier_rules && (
            <Box mt="16px" ml={{ base: 0, md: "124px" }} className="noprint">
              <Link to={`/do/${alone.id}`} style={{ textDecoration: "underline" }}>
                One step at a time
              </Link>
            </Box>
          )}
          {!sheets.some((s) => s.subject === today.data.visit.walk) && (
            <Box mt="16px" ml={{ base: 0, md: sheets.length ? "124px" : 0 }} className="noprint">
              <LinkButton disabled={act.busy} onClick={() => act.begin(today.data.visit.walk)}>
                {today.data.visit.walk_label}, step by step
              </LinkButton>
            </Box>
          )}
          {!sheets.some((s) => s.subject === "filter") && (
            <Box mt="16px" ml={{ base: 0, md: sheets.length ? "124px" : 0 }}>
              <BeginGuide poolId={pool.id} subject="filter" label={CLEAN_FILTER} />
            </Box>
          )}
          {!sheets.some((s) => s.kind === "clear_up") && (
            <Box mt="8px" ml={{ base: 0, md: sheets.length ? "124px" : 0 }} className="noprint">
              <Link to="/clear-up" style={{ textDecoration: "underline", fontSize: "14px" }}>
                Clear-up: shock, algae, an incident, a complaint
              </Link>
            </Box>
          )}
        </Box>
      </Grid>
      {due && sheets.length === 0 && (
        <Bar>
          <DueButton line={due} act={act} look="bar" />
        </Bar>
      )}
      {!alone && first && (
        <Bar>
          <ActButton look="bar" asChild>
            <Link to={`/do/${first.sheet_id}#${first.key}`}>{first.title}</Link>
          </ActButton>
        </Bar>
      )}
      {next && alone && !alone.earlier_rules && !next.held && (
        <Bar>
          {next.plan!.kind === "retest" ? (
            <ActButton look="bar" asChild>
              <Link to="/bench">{next.plan!.title}</Link>
            </ActButton>
          ) : (
            <ActButton look="bar" onClick={() => tick({ sheetId: alone.id, step: next })}>
              {verbOf(next.plan!)}
            </ActButton>
          )}
        </Bar>
      )}
    </Page>
  );
}

type FormProps = {
  sheet: Sheet;
  state: SheetStep;
  next: boolean;
  meta: Meta;
  busy: boolean;
  onTick: (ticking: Ticking) => void;
  error: Problem | null;
};

function TickForm({ sheet, state, next, meta, busy, onTick, error }: FormProps) {
  const step = state.plan!;
  if (step.kind === "retest")
    return next ? (
      <Box mt="8px" display={{ base: "none", md: "block" }}>
        <ActButton look="onAct" asChild>
          <Link to="/bench">Type the test</Link>
        </ActButton>
      </Box>
    ) : null;
  return (
    <Box mt="8px" className="noprint">
      <Flex gap="16px" align="center" wrap="wrap">
        <Box display={{ base: next ? "none" : "block", md: "block" }}>
          <ActButton
            look={next ? "onAct" : "line"}
            disabled={busy}
            onClick={() => onTick({ sheetId: sheet.id, step: state })}
          >
            {verbOf(step)}
          </ActButton>
        </Box>
        {step.kind === "add" && (
          <OtherAmount
            step={step}
            meta={meta}
            busy={busy}
            error={error}
            onAct={next}
            pour={(amount, unit) => onTick({ sheetId: sheet.id, step: state, amount, unit })}
          />
        )}
      </Flex>
    </Box>
  );
}

function NoPool() {
  return (
    <Page above="" headline="Welcome. Add your pool, then test its water.">
      <Text mb="16px" maxW="520px">
        One page: its name, how much water it holds (or its shape), its surface and how it is chlorinated.
      </Text>
      <ActButton asChild>
        <Link to="/pool/new">Add a pool</Link>
      </ActButton>
    </Page>
  );
}
