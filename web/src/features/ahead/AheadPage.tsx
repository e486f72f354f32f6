// The days to come: how long chlorine lasts, what a day takes and why, what to set or pour, what the weather does, what it costs.
import { Box, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link } from "react-router";

import { type Schemas } from "../../api/client";
import { type Ahead, useAhead } from "../../api/forecast";
import { useGraph } from "../../api/log";
import { LogParts } from "../../ui/LogParts";
import { Multiples } from "../../ui/Multiples";
import { ColumnHead, Page, Waiting } from "../../ui/Page";
import { PoolSwitch, usePool } from "../../ui/PoolSwitch";
import { Scores } from "../../ui/Scores";
import { StateMark } from "../../ui/StateMark";
import { WhyLink } from "../../ui/WhyLink";
import { Holiday } from "./Holiday";

const DAY = 86_400_000;
const HOUR = DAY / 24;
const SHOWN = ["fc", "ph"];

export function AheadPage() {
  const { pool, choose, pools } = usePool();
  const ahead = useAhead(pool?.id);
  if (!pool || !ahead.data) return <Waiting error={pools.error ?? ahead.error} />;
  const { coming, unknown, closed } = ahead.data;
  return (
    <Page
      above={<PoolSwitch pool={pool} pools={pools.data ?? []} choose={choose} />}
      headline={coming.sentence}
      below={
        !closed && (
          <Flex gap="12px" align="baseline" wrap="wrap">
            <Text>
              {coming.test_words} Told {coming.told_by}.
            </Text>
            <WhyLink reasonId="forecast" />
          </Flex>
        )
      }
    >
      <LogParts />
      {unknown.map((line) => (
        <Flex key={line} gap="10px" align="baseline" mb="8px" maxW="760px">
          <StateMark level="watch" word="" />
          <Text>{line}</Text>
        </Flex>
      ))}
      <Grid
        templateColumns={{ base: "minmax(0,1fr)", lg: "300px minmax(0,1fr)" }}
        gap={{ base: "28px", lg: "36px" }}
      >
        <Box minW={0} order={{ base: 2, lg: 1 }}>
          <Demand demand={ahead.data.demand} />
          <Paces paces={ahead.data.paces} />
        </Box>
        <Box minW={0} order={{ base: 1, lg: 2 }}>
          <Picture poolId={pool.id} zone={pool.time_zone} />
          <Grid
            templateColumns={{ base: "minmax(0,1fr)", xl: "minmax(0,1fr) minmax(0,1fr)" }}
            gap={{ base: "28px", lg: "36px" }}
            mt="20px"
          >
            <Acts acts={ahead.data.acts} poolId={pool.id} />
            <Weather days={ahead.data.weather} from={ahead.data.weather_from} />
          </Grid>
        </Box>
      </Grid>
      <Grid
        templateColumns={{ base: "minmax(0,1fr)", lg: "300px minmax(0,1fr) minmax(0,1fr)" }}
        gap={{ base: "28px", lg: "36px" }}
        mt="28px"
      >
        <Costs costs={ahead.data.costs} />
        {closed ? <Box display={{ base: "none", lg: "block" }} /> : <Holiday poolId={pool.id} />}
        <Box minW={0}>
          <ColumnHead title="How often it came out" note={<WhyLink reasonId="forecast" />} />
          <Scores ahead={ahead.data} />
        </Box>
      </Grid>
      <Box h="24px" />
    </Page>
  );
}

/** Free chlorine and pH from some days back through now to a week ahead, on the Log's own axis. */
function Picture({ poolId, zone }: { poolId: string; zone: string }) {
  const [window_, setWindow] = useState<[number, number]>(() => [Date.now() - 4 * DAY, Date.now() + 7 * DAY]);
  const [from, to] = window_;
  const graph = useGraph(poolId, Math.floor(from / HOUR) * HOUR, Math.ceil(to / HOUR) * HOUR).data;
  const series = (graph?.series ?? []).filter((s) => SHOWN.includes(s.measure));
  if (!graph) return <Box h="230px" />;
  if (series.length === 0) return null;
  return (
    <Multiples
      series={series}
      marks={graph.marks}
      window={window_}
      setWindow={setWindow}
      zone={zone}
      now={graph.now}
    />
  );
}

function Demand({ demand }: { demand: Ahead["demand"] }) {
  if (!demand) return null;
  return (
    <Box as="section" aria-label="What a day takes">
      <ColumnHead title="What a day takes" note={<WhyLink reasonId="machine_demand" />} />
      <Text fontSize="44px" fontWeight={800} lineHeight="1.1">
        {demand.shown.replace(/ a day$/, "")}
      </Text>
      <Text>four in five: {demand.span}</Text>
      <Text color="muted" fontSize="14px" mt="2px">
        {demand.told_by}
      </Text>
      {demand.drivers.map((d) => (
        <Driver key={d.label} driver={d} />
      ))}
      {demand.note && (
        <Text fontSize="14px" mt="10px">
          {demand.note}
        </Text>
      )}
    </Box>
  );
}

/** One driver as its share of the whole: full where the log tells it apart, open where it leans on what is usual. */
function Driver({ driver }: { driver: Schemas["DriverView"] }) {
  return (
    <Box mt="12px">
      <Flex justify="space-between" align="baseline" gap="12px">
        <Text fontSize="14px">{driver.label}</Text>
        <Text fontSize="16px" fontWeight={700} whiteSpace="nowrap">
          {driver.shown}
        </Text>
      </Flex>
      <Box
        h="10px"
        w={`${Math.max(2, driver.share * 100)}%`}
        border="1.5px solid"
        borderColor="ink"
        bg={driver.apart ? "ink" : "transparent"}
        role="img"
        aria-label={`${Math.round(driver.share * 100)} % of it${driver.apart ? "" : ", not told apart yet"}`}
      />
      <Text fontSize="14px" color="muted">
        {driver.span} ppm
      </Text>
    </Box>
  );
}

function Paces({ paces }: { paces: Ahead["paces"] }) {
  if (paces.length === 0) return null;
  return (
    <Box mt="24px" as="section" aria-label="By itself">
      <ColumnHead title="By itself" />
      {paces.map((p) => (
        <Flex
          key={p.label}
          justify="space-between"
          gap="12px"
          py="6px"
          borderBottom="1px solid"
          borderColor="hair"
          align="baseline"
        >
          <Text fontSize="14px">{p.label}</Text>
          <Text fontSize="14px" fontWeight={700} textAlign="right">
            {p.words}
          </Text>
        </Flex>
      ))}
    </Box>
  );
}

function Acts({ acts, poolId }: { acts: Ahead["acts"]; poolId: string }) {
  if (acts.length === 0) return null;
  return (
    <Box as="section" aria-label="Until then" key={poolId} minW={0}>
      <ColumnHead
        title="Until then"
        note={
          <Link to="/pool/machines" style={{ textDecoration: "underline" }}>
            machines
          </Link>
        }
      />
      {acts.map((a) => (
        <Box key={a.title} py="8px" borderBottom="1px solid" borderColor="hair">
          <Text fontSize="14px" color="muted">
            {a.title}
          </Text>
          {a.amount && (
            <Text fontSize="28px" fontWeight={800} lineHeight="1.15">
              {a.amount}
            </Text>
          )}
          <Text>{a.why}</Text>
        </Box>
      ))}
    </Box>
  );
}

function Weather({ days, from }: { days: Ahead["weather"]; from: string }) {
  return (
    <Box as="section" aria-label="What the weather does to this water" minW={0}>
      <ColumnHead title="What the weather does" />
      {days.map((d) => (
        <Grid
          key={d.day}
          templateColumns="104px 56px 80px minmax(0,1fr)"
          gap="8px"
          py="4px"
          borderBottom="1px solid"
          borderColor="hair"
          fontSize="14px"
          fontWeight={d.marked ? 700 : 400}
        >
          <chakra.span textTransform="capitalize">{d.day}</chakra.span>
          <span>{d.water}</span>
          <span>{d.demand}</span>
          <span>{d.does}</span>
        </Grid>
      ))}
      <Text color="muted" fontSize="14px" mt="6px">
        {days.length === 0 && "No outlook is known. "}
        {from}
      </Text>
    </Box>
  );
}

function Costs({ costs }: { costs: Ahead["costs"] }) {
  return (
    <Box as="section" aria-label="What it will cost" minW={0}>
      <ColumnHead title="What it will cost" note="at the prices on the Shelf" />
      {costs.stretches.map((s) => (
        <Box key={s.stretch} py="6px">
          <Text fontSize="14px" color="muted">
            {s.stretch}
          </Text>
          <Text fontSize="28px" fontWeight={700} lineHeight="1.15">
            {s.cost || "no price known"}
          </Text>
          <Text fontSize="14px">
            {s.span && `four in five: ${s.span}; `}
            {s.chlorine}
          </Text>
        </Box>
      ))}
      {costs.notes.map((note) => (
        <Text key={note} fontSize="14px" color="muted" mt="4px">
          {note}
        </Text>
      ))}
    </Box>
  );
}
