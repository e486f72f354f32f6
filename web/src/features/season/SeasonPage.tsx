// The season: when to open or close and what waiting means, the plan, where the parts lie, and how it was before.
import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { type ReactNode, useState } from "react";
import { Link } from "react-router";

import { paper, type PlanLink, type Season, useSeason } from "../../api/seasons";
import { ActButton, LinkButton } from "../../ui/controls";
import { ColumnHead, Page, Waiting } from "../../ui/Page";
import { PoolSwitch, usePool } from "../../ui/PoolSwitch";
import { StateShape } from "../../ui/StateMark";
import { WhyLink } from "../../ui/WhyLink";
import { BeginPlan } from "./BeginPlan";
import { Warmth } from "./Warmth";

const NAMES: Record<string, string> = { opening: "The opening", closing: "The closing", drain: "The drain" };
const ALIVE = ["under_way", "paused"];

export function SeasonPage() {
  const { pool, choose, pools } = usePool();
  const season = useSeason(pool?.id);
  if (!pool || !season.data) return <Waiting error={pools.error ?? season.error} />;
  const s = season.data;
  const plan = s.plans.find((p) => ALIVE.includes(p.state) && p.subject !== "drain");
  const drain = s.plans.find((p) => ALIVE.includes(p.state) && p.subject === "drain");
  return (
    <Page
      key={pool.id}
      above={<PoolSwitch pool={pool} pools={pools.data ?? []} choose={choose} />}
      headline={s.headline}
    >
      <Box mb="8px" maxW="860px">
        {s.lines.map((text) => (
          <Text key={text} fontSize="18px" lineHeight="1.4">
            {text}
          </Text>
        ))}
        <WhyLink reasonId="season_when" />
      </Box>
      {s.warmth.length > 1 && <Warmth season={s} />}
      <Grid
        templateColumns={{
          base: "minmax(0,1fr)",
          lg: s.delays.length ? "minmax(0,5fr) minmax(0,6fr) minmax(0,5fr)" : "minmax(0,1fr) minmax(0,1fr)",
        }}
        gap={{ base: "28px", lg: "36px" }}
        mt="24px"
      >
        <Box minW={0}>
          {plan ? (
            <UnderWay plan={plan} />
          ) : s.mild ? (
            <Folded label="plan a closing all the same">
              <Begin season={s} poolId={pool.id} />
            </Folded>
          ) : (
            <Begin season={s} poolId={pool.id} />
          )}
          <Box mt="32px">
            <Drain season={s} poolId={pool.id} plan={drain} />
          </Box>
        </Box>
        {s.delays.length > 0 && <Delays season={s} />}
        <Box minW={0}>
          <Parts season={s} poolId={pool.id} />
          <Before season={s} />
        </Box>
      </Grid>
    </Page>
  );
}

function Begin({ season, poolId }: { season: Season; poolId: string }) {
  const kind = season.kind;
  const usual = season.chosen && season.chosen >= season.today ? season.chosen : season.today;
  return (
    <Box>
      <ColumnHead title={kind === "opening" ? "Plan the opening" : "Plan the closing"} />
      {season.asks && (
        <Text mb="12px">
          <Link to="/bench" style={{ textDecoration: "underline" }}>
            Type the water&apos;s temperature
          </Link>{" "}
          first; then a day is proposed.
        </Text>
      )}
      <BeginPlan
        key={kind}
        poolId={poolId}
        subject={kind}
        label={kind === "opening" ? "Make the opening plan" : "Make the closing plan"}
        day={season.asks ? "" : usual}
        questions={season.questions}
        quiet={season.asks}
      />
    </Box>
  );
}

function UnderWay({ plan }: { plan: PlanLink }) {
  return (
    <Box>
      <ColumnHead title={NAMES[plan.subject]!} note={`${plan.done} of ${plan.steps} steps`} />
      <Text fontSize="20px" fontWeight={700}>
        {plan.day}
      </Text>
      <Text mb="12px">Next: {plan.next}</Text>
      <Flex gap="16px" align="center" wrap="wrap">
        <ActButton asChild>
          <Link to={`/do/${plan.id}`}>Go on with it</Link>
        </ActButton>
        <Papers path={`/sheets/${plan.id}/paper.pdf`} />
      </Flex>
    </Box>
  );
}

/** The same on paper, in either size. */
function Papers({ path }: { path: string }) {
  return (
    <Flex gap="12px" fontSize="14px" className="noprint">
      {(["letter", "a4"] as const).map((size) => (
        <a
          key={size}
          href={paper(path, size)}
          target="_blank"
          rel="noreferrer"
          style={{ textDecoration: "underline" }}
        >
          {size === "letter" ? "on paper (Letter)" : "(A4)"}
        </a>
      ))}
    </Flex>
  );
}

/** What few want, behind a link. */
function Folded({ label, children }: { label: string; children: ReactNode }) {
  const [open, setOpen] = useState(false);
  return (
    <Box>
      <LinkButton aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? "not now" : label}
      </LinkButton>
      {open && <Box mt="8px">{children}</Box>}
    </Box>
  );
}

function Drain({ season, poolId, plan }: { season: Season; poolId: string; plan: PlanLink | undefined }) {
  if (plan) return <UnderWay plan={plan} />;
  return (
    <Box>
      <ColumnHead title="Drain and restart" note={<WhyLink reasonId="drain_share" />} />
      <Text color="muted">{season.drain}</Text>
      <Folded label="plan a drain">
        <BeginPlan
          poolId={poolId}
          subject="drain"
          label="Make the plan"
          day={season.today}
          questions={season.questions}
          quiet
        />
      </Folded>
    </Box>
  );
}

function Delays({ season }: { season: Season }) {
  return (
    <Box minW={0}>
      <ColumnHead title="Sooner or later" />
      {season.delays.map((d) => (
        <Grid
          key={d.day}
          templateColumns="22px minmax(0,1fr)"
          gap="8px"
          borderTop="1px solid"
          borderColor={d.chosen ? "ink" : "hair"}
          borderTopWidth={d.chosen ? "2px" : "1px"}
          py="8px"
          alignItems="start"
        >
          <Box pt="3px">
            <StateShape level={d.level} />
          </Box>
          <Box>
            <Text fontWeight={d.chosen ? 800 : 700}>
              {d.day_words}
              <Text as="span" color="muted" fontWeight={400}>
                {" "}
                · {d.when}
                {d.water && ` · ${d.water}`}
              </Text>
            </Text>
            <Text>{d.means[0]!.toUpperCase() + d.means.slice(1)}.</Text>
          </Box>
        </Grid>
      ))}
    </Box>
  );
}

function Parts({ season, poolId }: { season: Season; poolId: string }) {
  return (
    <Box>
      <ColumnHead title="Where the parts lie" />
      {season.parts.length === 0 && (
        <Text color="muted">
          A closing plan asks where each part lies; the next opening asks for them there.
        </Text>
      )}
      {season.parts.map((p) => (
        <Grid
          key={p.id}
          templateColumns="minmax(0,1fr) minmax(0,1fr)"
          gap="10px"
          borderTop="1px solid"
          borderColor="hair"
          py="6px"
        >
          <Text>{p.label}</Text>
          <Text fontWeight={700} title={p.said}>
            {p.place}
          </Text>
        </Grid>
      ))}
      {season.parts.length > 0 && <Papers path={`/pools/${poolId}/parts.pdf`} />}
    </Box>
  );
}

function Before({ season }: { season: Season }) {
  const done = season.plans.filter((p) => !ALIVE.includes(p.state));
  if (season.last.length === 0 && done.length === 0) return null;
  return (
    <Box mt="32px">
      <ColumnHead title="Before" />
      {season.last.map((l) => (
        <Text key={`${l.what} ${l.day}`} borderTop="1px solid" borderColor="hair" py="6px">
          <b>
            {l.what} {l.day}
          </b>
          {[l.water && ` at ${l.water}`, l.looked && `; ${l.looked}`].filter(Boolean).join("")}
        </Text>
      ))}
      {done.map((p) => (
        <Text key={p.id} borderTop="1px solid" borderColor="hair" py="6px">
          <Link to={`/do/${p.id}`} style={{ textDecoration: "underline" }}>
            {p.name}, {p.day}
          </Link>
          {p.state === "done" ? "" : ": given up"}
          {p.notes && <Text as="span">. “{p.notes}”</Text>}
        </Text>
      ))}
    </Box>
  );
}
