// The log as graphs: every measure's band turned into time, readings with whiskers, the estimate between them, doses and events as marks.
import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Schemas } from "../../api/client";
import { useGraph } from "../../api/log";
import { ActButton, LinkButton } from "../../ui/controls";
import { ColumnHead, Page, Waiting } from "../../ui/Page";
import { PoolSwitch, usePool } from "../../ui/PoolSwitch";
import { WhyLink } from "../../ui/WhyLink";
import { GraphTable } from "../../ui/GraphTable";
import { Multiples } from "../../ui/Multiples";
import { LogParts } from "../../ui/LogParts";

const DAY = 86_400_000;
const SPANS: [string, number][] = [
  ["two weeks", 14],
  ["three months", 91],
  ["a year", 366],
];

// Beyond now the window shows what is foretold: a week of it where the span has room.
const last = (days: number, ahead = Math.max(Math.min(7, days * 0.25), days * 0.02)): [number, number] => [
  Date.now() - days * DAY,
  Date.now() + ahead * DAY,
];

/** The three measures most often read out of their band, the most often first. */
function outMost(series: Schemas["Series"][]): string[] {
  return series
    .filter((s) => s.tested_out > 0)
    .sort((a, b) => b.tested_out / b.tested - a.tested_out / a.tested)
    .slice(0, 3)
    .map((s, i) => {
      const name = s.measure === "ph" ? "pH" : s.label.toLowerCase();
      return `${name} in ${s.tested_out} of ${s.tested}${i ? "" : s.tested > 1 ? " tests" : " test"}`;
    });
}

export function GraphsPage() {
  const { pool, choose, pools } = usePool();
  const [window_, setWindow] = useState<[number, number]>(() => last(14));
  const [table, setTable] = useState(false);
  const [from, to] = window_;
  // Asked for in whole steps of a fiftieth, so that a drag does not ask at every pixel.
  const step = (to - from) / 50;
  const [start, end] = [Math.floor(from / step) * step, Math.ceil(to / step) * step];
  const graph = useGraph(pool?.id, start, end);
  if (!pool || !graph.data) return <Waiting error={pools.error ?? graph.error} />;
  const { first, series, marks, thinned } = graph.data;
  const out = outMost(series);
  return (
    <Page
      above={<PoolSwitch pool={pool} pools={pools.data ?? []} choose={choose} />}
      headline={
        series.length === 0
          ? "Nothing was tested in this stretch."
          : out.length
            ? `Out of band most: ${out.join(", ")}.`
            : "Everything stayed in its band."
      }
    >
      <LogParts />
      <Flex gap="8px" wrap="wrap" align="center" mb="12px" className="noprint">
        {SPANS.map(([name, days]) => (
          <ActButton key={name} look="line" px="12px" fontSize="14px" onClick={() => setWindow(last(days))}>
            {name}
          </ActButton>
        ))}
        {first && (
          <ActButton
            look="line"
            px="12px"
            fontSize="14px"
            onClick={() => setWindow([new Date(first).getTime() - DAY, last(0, 1)[1]])}
          >
            all of it
          </ActButton>
        )}
        <LinkButton aria-pressed={table} onClick={() => setTable(!table)}>
          {table ? "as graphs" : "as a table"}
        </LinkButton>
        <Text fontSize="14px" color="muted">
          Drag to move, pinch or wheel to zoom; with the keys ← → + −.
        </Text>
      </Flex>
      <ColumnHead
        title={table ? "Readings" : "Through time"}
        note={
          <>
            {thinned && "thinned, none out of band left out · "}
            <WhyLink reasonId="present">what the grey is</WhyLink>
          </>
        }
      />
      {table ? (
        <GraphTable series={series} zone={pool.time_zone} />
      ) : (
        <Multiples
          series={series}
          marks={marks}
          window={window_}
          setWindow={setWindow}
          zone={pool.time_zone}
          now={graph.data.now}
        />
      )}
      {graph.isFetching && (
        <chakra.span position="absolute" w="1px" h="1px" overflow="hidden" role="status">
          Reading the log …
        </chakra.span>
      )}
      <Box h="16px" />
    </Page>
  );
}
