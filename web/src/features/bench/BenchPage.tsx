// The Bench: type readings; diagnosis and plan follow at once; accept, and Today takes over.
import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { Fragment, memo, useCallback, useMemo, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";

import { Problem } from "../../api/client";
import { useSaveTest } from "../../api/log";
import { type Meta, useMeta } from "../../api/meta";
import { useAcceptPlan, usePlan, useToday } from "../../api/plans";
import { type Pool } from "../../api/pools";
import { Bar } from "../../ui/Bar";
import { ActButton, LinkButton, Notice } from "../../ui/controls";
import { ColumnHead, Page, Waiting } from "../../ui/Page";
import { PoolSwitch, usePool } from "../../ui/PoolSwitch";
import { Gap } from "../../ui/Rail";
import { SwimTonight } from "../../ui/SwimTonight";
import { Then } from "../../ui/Then";
import { WhyLink } from "../../ui/WhyLink";
import { BenchStep } from "./BenchStep";
import { Outcomes } from "./Outcomes";
import { Readings } from "./Readings";
import { Differences, Terms } from "./Terms";
import { readingsOf, rowsOf } from "./rows";
import { useDraft, type Draft } from "./useDraft";

export function BenchPage() {
  const { pool, choose, pools } = usePool();
  const meta = useMeta();
  if (pools.data?.length === 0)
    return (
      <Page above="" headline="Add your pool first.">
        <ActButton asChild>
          <Link to="/pool/new">Add a pool</Link>
        </ActButton>
      </Page>
    );
  if (!pool || !meta.data) return <Waiting error={pools.error ?? meta.error} />;
  return <Bench key={pool.id} pool={pool} pools={pools.data ?? []} choose={choose} meta={meta.data} />;
}

type Props = { pool: Pool; pools: Pool[]; choose: (id: string) => void; meta: Meta };

function Bench({ pool, pools, choose, meta }: Props) {
  const { draft, change, clear, kitChosen } = useDraft(pool.id);
  const rows = useMemo(
    () => rowsOf(meta, { combined: draft.combined, more: draft.more }),
    [meta, draft.combined, draft.more],
  );
  const readings = readingsOf(draft, rows);
  const today = useToday(pool.id);
  const asked = {
    products: draft.products,
    school: draft.school,
    seen: draft.seen,
    stay_min: draft.stay,
    visits_days: draft.stay === null ? [] : draft.visits,
    hold_days: draft.holdDays,
    closed_pool: draft.closedPool,
    drain_later: draft.drainLater,
    raise_calcium: draft.raiseCalcium,
  };
  const preview = usePlan(pool.id, { readings, ...asked });
  const accept = useAcceptPlan(pool.id);
  const save = useSaveTest(pool.id);
  const navigate = useNavigate();
  const acceptButton = useRef<HTMLButtonElement>(null);
  const [open, setOpen] = useState(true);

  const plan = preview.data?.plan;
  const failed = (accept.error ?? save.error) as Problem | null;
  const problems: Record<string, string> = Object.fromEntries(
    [...(preview.data?.problems ?? []), ...(failed?.fields ?? [])].map((p) => [
      p.field.replace(/^readings\./, ""),
      p.message,
    ]),
  );
  const nothingTyped = readings.length === 0;
  const blocked = nothingTyped || (preview.data?.problems ?? []).some((p) => p.code !== "not_here");
  // A clear-up has the water: the test is its check, and its amounts stand there.
  const run =
    preview.data?.run_id ?? today.data?.sheets.find((s) => s.kind === "clear_up" && !s.run?.over)?.id;
  // On a walk the test is one of its steps: from here it goes on.
  const walk = today.data?.sheets.find((s) => s.subject === "weekly" || s.subject === "stop")?.id;
  const hasSteps = !nothingTyped && !run && (plan?.steps.length ?? 0) > 0;
  const test = () => ({
    id: draft.testId,
    at: new Date().toISOString(),
    local: "",
    performed_by: "",
    sampling_point: draft.samplingPoint,
    readings,
  });

  async function onAccept() {
    if (blocked || accept.isPending || save.isPending) return;
    try {
      if (hasSteps) await accept.mutateAsync({ id: draft.planId, test: test(), ...asked });
      else await save.mutateAsync(test());
    } catch {
      return; // told beside the button; the draft stays
    }
    clear();
    const under = run ?? walk;
    void navigate(under ? `/do/${under}` : hasSteps ? "/" : "/log");
  }
  async function onSave() {
    try {
      await save.mutateAsync(test());
    } catch {
      return;
    }
    clear();
    void navigate("/log");
  }

  const choosing = useCallback(
    (role: string, choice: Draft["products"][string] | null) =>
      change((d) => ({
        products: choice
          ? { ...d.products, [role]: choice }
          : Object.fromEntries(Object.entries(d.products).filter(([r]) => r !== role)),
      })),
    [change],
  );
  const drainLater = useCallback(() => change({ drainLater: true }), [change]);
  const verb = hasSteps ? "Accept this plan" : "Log this test";
  const typedFew = readings
    .slice(0, 3)
    .map((r) => `${meta.measures.find((m) => m.id === r.measure)?.short} ${r.text}`)
    .join("  ");
  const firstStep = plan?.steps[0];
  const firstAct =
    hasSteps && firstStep?.amount
      ? `${firstStep.amount.text} ${meta.products.find((p) => p.id === firstStep.product_id)?.short ?? ""}`
      : "";
  const next = hasSteps && plan?.steps[0]?.kind !== "retest" ? plan?.steps[0]?.key : undefined;
  return (
    <Page
      above={<PoolSwitch pool={pool} pools={pools} choose={choose} />}
      aside={today.data?.clock}
      headline={
        run
          ? "A clear-up has the water: this is its check."
          : nothingTyped
            ? "Test the water, type what you read."
            : (plan?.headline ?? "Working it out …")
      }
      below={
        !nothingTyped &&
        plan && (
          <Flex gap="16px" align="center" wrap="wrap" justify="space-between" minH={{ md: "44px" }}>
            {run && today.data?.swim ? (
              <SwimTonight swim={today.data.swim} />
            ) : (
              <Flex gap="12px" align="baseline" wrap="wrap">
                {plan.swim}
                <WhyLink reasonId="swim" />
              </Flex>
            )}
            <Flex gap="20px" align="center" display={{ base: "none", md: "flex" }} className="noprint">
              {hasSteps && !blocked && (
                <LinkButton onClick={() => void onSave()}>log the test alone</LinkButton>
              )}
              <ActButton
                ref={acceptButton}
                onClick={() => void onAccept()}
                disabled={blocked}
                aria-busy={accept.isPending || save.isPending}
              >
                {verb}
              </ActButton>
            </Flex>
          </Flex>
        )
      }
    >
      <Grid
        templateColumns={{ base: "minmax(0,1fr)", md: "300px minmax(0,1fr)" }}
        gap={{ base: "16px", md: "20px" }}
      >
        <Box>
          <Flex
            display={{ base: "flex", md: "none" }}
            justify="space-between"
            align="center"
            fontWeight={700}
            fontSize="16px"
          >
            <Text whiteSpace="pre">{typedFew}</Text>
            <LinkButton aria-expanded={open} onClick={() => setOpen(!open)}>
              {open ? "fold readings" : "all readings"}
            </LinkButton>
          </Flex>
          <Box display={{ base: open ? "block" : "none", md: "block" }}>
            <Readings
              ask={!kitChosen && today.data !== undefined && today.data.last_test === null}
              rows={rows}
              draft={draft}
              change={change}
              meta={meta}
              findings={nothingTyped ? [] : (plan?.findings ?? [])}
              problems={problems}
              lastTest={today.data?.last_test ?? null}
              done={() => acceptButton.current?.focus()}
            />
          </Box>
        </Box>
        <Box minW={0} aria-live="polite">
          {failed && (
            <Box mb="12px">
              <Notice>{failed.message}</Notice>
            </Box>
          )}
          <Terms
            school={draft.school}
            seen={draft.seen}
            stay={draft.stay}
            visits={draft.visits}
            holdDays={draft.holdDays}
            closedPool={draft.closedPool}
            samplingPoint={draft.samplingPoint}
            change={change}
            meta={meta}
            pool={pool}
          />
          {!nothingTyped && plan && draft.school && draft.school !== pool.school && (
            <Differences
              lines={preview.data?.differences ?? []}
              label={plan.school_label}
              caution={plan.school_caution}
              back={() => change({ school: null })}
            />
          )}
          <ColumnHead
            title="Now"
            note={
              <Flex gap="12px" align="baseline">
                {!nothingTyped && plan?.summary}
                <WhyLink reasonId="order">why this order</WhyLink>
              </Flex>
            }
          />
          {nothingTyped && <Quiet pool={pool} />}
          {run && (
            <Box maxW="520px" mb="12px">
              <Text fontSize="20px">
                Nothing else goes in until it is over. Log this test, and the amount for a top-up stands
                there.
              </Text>
              <Link to={`/do/${run}`} style={{ textDecoration: "underline" }}>
                To the clear-up
              </Link>
            </Box>
          )}
          {!nothingTyped && plan && !run && draft.seen.includes("faecal") && (
            <Text mb="12px" ml={{ base: 0, md: "124px" }}>
              <Link to="/clear-up" style={{ textDecoration: "underline" }}>
                Let Kumpan count the time by the health authority&apos;s table
              </Link>
            </Text>
          )}
          {!nothingTyped && plan && !run && draft.seen.some((s) => s === "algae" || s === "floor_hidden") && (
            <Text mb="12px" ml={{ base: 0, md: "124px" }}>
              This is the first evening alone.{" "}
              <Link to="/clear-up" style={{ textDecoration: "underline" }}>
                Let Kumpan lead it to clear
              </Link>
            </Text>
          )}
          {!nothingTyped && plan && !run && (
            <>
              <Box as="ol" p={0} m={0}>
                {plan.steps.map((step) => (
                  <Fragment key={step.key}>
                    <BenchStep
                      step={step}
                      next={step.key === next}
                      meta={meta}
                      choose={choosing}
                      drainLater={drainLater}
                      error={problems[`products.${step.role}`]}
                      map={
                        plan.carbon_map?.legs.some((leg) => leg.balances && leg.key === step.key)
                          ? plan.carbon_map
                          : null
                      }
                    />
                    {step.gap && <Gap text={step.gap} />}
                  </Fragment>
                ))}
              </Box>
              {plan.steps.length === 0 && (
                <Text fontSize="20px" py="12px">
                  {plan.needs_test.length
                    ? "No dose can be worked out from this yet."
                    : "Nothing to add today. Log the test, so that the next one has something to compare with."}
                </Text>
              )}
              {draft.drainLater && (
                <Text fontSize="14px" mt="8px" ml={{ base: 0, md: "124px" }}>
                  Fresh water is put off.{" "}
                  <LinkButton onClick={() => change({ drainLater: false })}>exchange it now</LinkButton>
                </Text>
              )}
              {plan.calcium_wish && (
                <Text fontSize="14px" mt="8px" ml={{ base: 0, md: "124px" }}>
                  {plan.calcium_wish}{" "}
                  <LinkButton onClick={() => change({ raiseCalcium: !draft.raiseCalcium })}>
                    {draft.raiseCalcium ? "leave it" : "raise it"}
                  </LinkButton>
                </Text>
              )}
              <Then later={plan.later} totals={plan.totals} />
              {plan.assumptions && (
                <Text fontSize="14px" color="muted" mt="8px" ml={{ base: 0, md: "124px" }} maxW="620px">
                  {plan.assumptions} <WhyLink reasonId="sized" />
                </Text>
              )}
              <Outcomes outcomes={plan.outcomes} />
              <Told title="Test next" lines={plan.needs_test} />
              <Told title="Left alone" lines={plan.left_alone} />
            </>
          )}
          {preview.error && !plan && (
            <Box mt="12px">
              <Notice>{preview.error.message}</Notice>
            </Box>
          )}
        </Box>
      </Grid>
      {!blocked && (
        <Bar>
          <ActButton look="bar" onClick={() => void onAccept()}>
            {firstAct ? `Accept: ${firstAct} first` : verb}
          </ActButton>
        </Bar>
      )}
    </Page>
  );
}

const Told = memo(function Told({ title, lines }: { title: string; lines: string[] }) {
  if (lines.length === 0) return null;
  return (
    <Box mt="16px" ml={{ base: 0, md: "124px" }} maxW="620px">
      <Text as="h3" fontSize="14px" fontWeight={700}>
        {title}
      </Text>
      {lines.map((line) => (
        <Text key={line} fontSize="14px" color="muted">
          {line}
        </Text>
      ))}
    </Box>
  );
});

function Quiet({ pool }: { pool: Pool }) {
  return (
    <Box maxW="560px" pt="8px">
      <Text fontSize="16px">
        Any of them will do; the plan appears with the first. Sample from elbow depth, away from the returns,
        after the pump has run ten minutes.
      </Text>
      <Text fontSize="14px" color="muted" mt="16px" mb="4px" fontWeight={700}>
        What good water is here ({pool.school_label})
      </Text>
      {pool.targets
        .filter((t) => t.band !== "no target")
        .map((t) => (
          <Flex
            key={t.measure}
            borderTop="1px solid"
            borderColor="hair"
            py="6px"
            gap="12px"
            fontSize="14px"
            align="baseline"
          >
            <Text w="140px">{t.label}</Text>
            <Text flex={1} fontWeight={700}>
              {t.band}
            </Text>
            <WhyLink reasonId={t.reason_id} />
          </Flex>
        ))}
    </Box>
  );
}
