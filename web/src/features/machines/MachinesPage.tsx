// The machines that keep a pool: what to set, what it means, when to clean it. Every number comes from the API.
import { Box, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { type ReactNode } from "react";
import { Link } from "react-router";

import {
  type Chlorinator,
  type Circulation,
  type Feeder,
  type Filter,
  type Guide,
  useMachines,
} from "../../api/machines";
import { type Schemas } from "../../api/client";
import { useToday } from "../../api/plans";
import { useWide } from "../../lib/wide";
import { BeginGuide } from "../../ui/BeginGuide";
import { Page, Waiting } from "../../ui/Page";
import { PoolSwitch, usePool } from "../../ui/PoolSwitch";
import { StateMark, StateShape } from "../../ui/StateMark";
import { WhyLink } from "../../ui/WhyLink";
import { PoolParts } from "../../ui/PoolParts";
import { ThePanel } from "./Panel";
import { Day, Pressures, TradeOff } from "./Pictures";

const WORDS: Record<string, string> = { fine: "fine", watch: "watch", act: "act" };

export function MachinesPage() {
  const { pool, choose, pools } = usePool();
  const machines = useMachines(pool?.id);
  const sheets = useToday(pool?.id).data?.sheets ?? [];
  if (!pool || !machines.data) return <Waiting error={pools.error ?? machines.error} />;
  const { headline, chlorinator, feeder, filter, circulation } = machines.data;
  const under = Object.fromEntries(sheets.map((s) => [s.subject, s.id]));
  const at = { poolId: pool.id, under };
  return (
    <Page
      above={<PoolSwitch pool={pool} pools={pools.data ?? []} choose={choose} />}
      aside={
        <Link to="/care/away" style={{ textDecoration: "underline" }}>
          going away?
        </Link>
      }
      headline={headline}
    >
      <PoolParts />
      {chlorinator && <TheCell cell={chlorinator} {...at} />}
      {feeder && <TheFeeder feeder={feeder} {...at} />}
      {filter ? (
        <TheFilter filter={filter} {...at} />
      ) : (
        <Section title="Filter" level="watch" sentence="No filter is recorded.">
          <Link to="/pool/equipment" style={{ textDecoration: "underline" }}>
            Write it down at the equipment
          </Link>
        </Section>
      )}
      <Moves moves={circulation} {...at} />
    </Page>
  );
}

type At = { poolId: string; under: Record<string, string> };

type SectionProps = {
  title: string;
  level: string;
  sentence: string;
  children?: ReactNode;
  picture?: ReactNode;
  beside?: ReactNode;
};

/** A machine: what to set and why at the left, its picture, what else there is at the right. */
function Section({ title, level, sentence, children, picture, beside }: SectionProps) {
  return (
    <Box as="section" borderTop="2px solid" borderColor="hair" pt="14px" pb="28px">
      <Grid
        templateColumns={{ base: "minmax(0,1fr)", lg: "320px minmax(0,1fr) 300px" }}
        gap={{ base: "20px", lg: "36px" }}
      >
        <Box minW={0}>
          <Flex justify="space-between" align="baseline" gap="12px">
            <Heading as="h2" fontSize="16px" fontWeight={700}>
              {title}
            </Heading>
            <StateMark level={level} word={WORDS[level] ?? ""} />
          </Flex>
          <Text fontSize="20px" lineHeight="1.3" fontWeight={700} mt="6px">
            {sentence}
          </Text>
          {children}
        </Box>
        <Box minW={0}>{picture}</Box>
        <Box minW={0}>{beside}</Box>
      </Grid>
    </Box>
  );
}

/** Ways into a machine's guides; one under way is gone on with. */
function Guides({ guides, poolId, under }: At & { guides: Guide[] }) {
  return (
    <Box mt="14px" className="noprint">
      {guides.map((g) => (
        <Box key={g.subject} mb="10px">
          {under[g.subject] ? (
            <Link to={`/do/${under[g.subject]}`} style={{ textDecoration: "underline", fontWeight: 700 }}>
              Go on: {g.label.toLowerCase()}
            </Link>
          ) : (
            <BeginGuide poolId={poolId} subject={g.subject} label={g.label} look="line" />
          )}
          <Text fontSize="14px" color="muted" mt="2px">
            {g.why}
          </Text>
        </Box>
      ))}
    </Box>
  );
}

type FactData = Schemas["Fact"];

function Facts({ facts }: { facts: FactData[] }) {
  return facts.map((f) => (
    <Flex key={f.text} gap="8px" align="baseline" mt="8px">
      {f.level !== "none" && <StateShape level={f.level} />}
      <Text fontSize="16px" lineHeight="1.4" fontWeight={f.level === "act" ? 700 : 400}>
        {f.text} <WhyLink reasonId={f.reason_id} />
      </Text>
    </Flex>
  ));
}

function Missing({ texts }: { texts: string[] }) {
  return texts.map((text) => (
    <Text key={text} mt="8px" pl="10px" borderLeft="3px solid" borderColor="hair" color="muted">
      {text}{" "}
      <Link to="/pool/equipment" style={{ textDecoration: "underline" }}>
        to the equipment
      </Link>
    </Text>
  ));
}

const Small = ({ children }: { children: ReactNode }) => (
  <Heading as="h3" fontSize="14px" fontWeight={700} mb="4px" mt="0">
    {children}
  </Heading>
);

function Rows({ rows }: { rows: ReactNode[][] }) {
  return (
    <Box as="table" w="100%" fontSize="14px" style={{ borderCollapse: "collapse" }}>
      <tbody>
        {rows.map((cells, i) => (
          <tr key={i}>
            {cells.map((cell, n) => (
              <Box
                as="td"
                key={n}
                py="5px"
                pr="8px"
                borderTop="1px solid"
                borderColor="hair"
                textAlign={n === cells.length - 1 ? "right" : "left"}
                fontVariantNumeric="tabular-nums"
                whiteSpace={n === 1 && cells.length > 2 ? "nowrap" : undefined}
              >
                {cell}
              </Box>
            ))}
          </tr>
        ))}
      </tbody>
    </Box>
  );
}

function TheCell({ cell, ...at }: At & { cell: Chlorinator }) {
  const { plates } = cell;
  const wide = useWide();
  return (
    <Section
      title="Chlorinator"
      level={cell.level}
      sentence={cell.sentence}
      picture={
        <>
          {cell.points.length > 0 && <TradeOff cell={cell} width={wide ? 520 : 358} />}
          <Grid templateColumns={{ base: "minmax(0,1fr)", md: "1fr 1fr" }} gap="24px" mt="20px">
            <Box>
              <Small>Salt</Small>
              <Flex gap="8px" align="baseline">
                {cell.salt.level !== "none" && <StateShape level={cell.salt.level} />}
                <Text fontWeight={cell.salt.level === "act" ? 700 : 400}>
                  {cell.salt.text} <WhyLink reasonId={cell.salt.reason_id} />
                </Text>
              </Flex>
              {cell.salt_more && (
                <Text mt="6px" fontWeight={cell.salt.level === "act" ? 700 : 400}>
                  {cell.salt_more}
                </Text>
              )}
            </Box>
            <Box>
              <Small>Plates</Small>
              <Text>
                {plates.due ? `Next look ${plates.due}. ` : ""}
                {plates.why} <WhyLink reasonId="cell_look" />
              </Text>
              <Text fontSize="14px" color="muted" mt="4px">
                {plates.baths === 0
                  ? "No acid bath so far."
                  : `${plates.baths} acid bath${plates.baths > 1 ? "s" : ""} so far.`}
              </Text>
              <Rows rows={plates.looks.map((l) => [l.when, l.found])} />
            </Box>
          </Grid>
          <ThePanel poolId={at.poolId} panel={cell.panel} />
        </>
      }
      beside={
        <>
          {cell.seasons.length > 0 && (
            <Box mb="20px">
              <Small>In other water</Small>
              <Rows
                rows={cell.seasons.map((s) => [
                  s.now ? <b key="t">{s.temp}, about now</b> : s.temp,
                  s.demand,
                  s.now ? <b key="s">{s.setting}</b> : s.setting,
                ])}
              />
            </Box>
          )}
          <Small>Before it is blamed</Small>
          <Rows
            rows={cell.checks.map((c) => [
              c.label,
              c.value,
              <StateMark key="m" level={c.level} word={c.word} />,
            ])}
          />
        </>
      }
    >
      <Text mt="6px">
        {cell.demand} <WhyLink reasonId="machine_demand" />
      </Text>
      <Missing texts={cell.missing} />
      <Facts facts={cell.lines} />
      <Guides guides={cell.guides} {...at} />
    </Section>
  );
}

function TheFeeder({ feeder, ...at }: At & { feeder: Feeder }) {
  return (
    <Section
      title={feeder.dial.startsWith("Vents") ? "Floater" : "Feeder"}
      level={feeder.level}
      sentence={feeder.sentence}
      picture={
        <>
          <Small>Where its stabilizer leads</Small>
          <Flex gap="8px" align="baseline">
            {feeder.reach_level !== "none" && <StateShape level={feeder.reach_level} />}
            <Text fontSize="18px" lineHeight="1.4">
              {feeder.reach} <WhyLink reasonId="care_tablets" />
            </Text>
          </Flex>
        </>
      }
      beside={
        <Rows
          rows={[
            ["Holds", feeder.holds || "not known"],
            ["Has ever held", feeder.held.join(", ") || "not known"],
            ["Last topped up", feeder.last || "not logged"],
          ]}
        />
      }
    >
      <Text mt="6px">
        {feeder.demand} <WhyLink reasonId="machine_demand" />
      </Text>
      {feeder.dial && <Text mt="6px">{feeder.dial}</Text>}
      <Missing texts={feeder.missing} />
      <Facts facts={feeder.lines} />
      <Guides guides={feeder.guides} {...at} />
    </Section>
  );
}

function TheFilter({ filter, ...at }: At & { filter: Filter }) {
  const wide = useWide();
  return (
    <Section
      title="Filter"
      level={filter.level}
      sentence={filter.sentence}
      picture={filter.gauges.length > 1 && <Pressures filter={filter} width={wide ? 520 : 358} />}
      beside={
        <Rows
          rows={[
            ["Kind", filter.valve ? `${filter.kind}, ${filter.valve}` : filter.kind],
            ["Clean", filter.clean === null ? "not known" : `${filter.clean} ${filter.unit}`],
            ["Due from", filter.due_at === null ? "not known" : `${filter.due_at} ${filter.unit}`],
            ["Cleaned", filter.by],
            ["Next", filter.due || "by its gauge"],
          ]}
        />
      }
    >
      {filter.why && (
        <Text mt="6px">
          {filter.why} <WhyLink reasonId="filter_pressure" />
        </Text>
      )}
      <Missing texts={filter.missing} />
      <Facts facts={filter.lines} />
      <Guides guides={filter.guides} {...at} />
    </Section>
  );
}

function Moves({ moves, ...at }: At & { moves: Circulation }) {
  const wide = useWide();
  return (
    <Section
      title="Circulation"
      level={moves.level}
      sentence={moves.sentence}
      picture={<Day moves={moves} width={wide ? 520 : 358} />}
      beside={<Facts facts={moves.lines} />}
    >
      {moves.turnover && (
        <Text mt="6px">
          {moves.turnover} <WhyLink reasonId="turnover" />
        </Text>
      )}
      <Missing texts={moves.missing} />
      <Guides guides={moves.guides} {...at} />
    </Section>
  );
}
