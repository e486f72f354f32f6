// Care: the year as a rail with today marked, what is due now, and every duty with how it comes round.
import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { type ReactNode, useState } from "react";
import { Link } from "react-router";

import { useCare } from "../../api/care";
import { type Season, useSeason } from "../../api/seasons";
import { useWide } from "../../lib/wide";
import { useWidth } from "../../lib/width";
import { Bar } from "../../ui/Bar";
import { LinkButton } from "../../ui/controls";
import { DueButton, DueLines, useDueAct } from "../../ui/Due";
import { ColumnHead, Page, Waiting } from "../../ui/Page";
import { PoolSwitch, usePool } from "../../ui/PoolSwitch";
import { Calendar } from "./Calendar";
import { Feeds } from "./Feeds";
import { Settings } from "./Settings";
import { Tasks } from "./Tasks";
import { YearRail } from "./YearRail";

/** The opening or closing to come, for the year's rail. */
const nextOf = (season: Season | undefined) =>
  season?.chosen ? { day: season.chosen, word: season.kind === "opening" ? "open" : "close" } : undefined;

type FoldProps = { title: string; note?: ReactNode; children: ReactNode };

/** A part of the page; on a phone behind its heading, so that what is due stays the page. */
function Fold({ title, note, children }: FoldProps) {
  const wide = useWide();
  const [open, setOpen] = useState(false);
  const shown = wide || open;
  return (
    <Box minW={0} className="noprint">
      {wide ? (
        <ColumnHead title={title} note={note} />
      ) : (
        <Flex justify="space-between" borderTop="1px solid" borderColor="hair" align="center">
          <LinkButton fontSize="16px" fontWeight={700} aria-expanded={open} onClick={() => setOpen(!open)}>
            {title}
          </LinkButton>
          {open && note}
        </Flex>
      )}
      {shown && children}
    </Box>
  );
}

export function CarePage() {
  const { pool, choose, pools } = usePool();
  const care = useCare(pool?.id);
  const season = useSeason(pool?.id).data;
  const act = useDueAct(pool?.id ?? "");
  const { box, width } = useWidth();
  const [view, setView] = useState<"list" | "calendar">("list");
  if (!pool || !care.data) return <Waiting error={pools.error ?? care.error} />;
  const { visit, year, headline, others } = care.data;
  const first = visit.now[0];
  return (
    <Page
      above={<PoolSwitch pool={pool} pools={pools.data ?? []} choose={choose} />}
      headline={headline}
      below={visit.bring.length > 0 ? `Bring: ${visit.bring.join(", ")}.` : undefined}
    >
      <Box ref={box} mb="20px">
        {width > 0 && <YearRail year={year} width={width} next={nextOf(season)} />}
        {season && (
          <Text mt="4px">
            {season.headline}{" "}
            <Link to="/care/season" style={{ textDecoration: "underline" }}>
              The season
            </Link>
          </Text>
        )}
      </Box>
      <Grid
        templateColumns={{ base: "minmax(0,1fr)", lg: "minmax(0,1fr) minmax(0,1fr)" }}
        gap={{ base: "4px", lg: "32px 40px" }}
      >
        <Box minW={0}>
          <ColumnHead
            title={first ? "Due now" : "Nothing is due"}
            note={first ? `about ${visit.minutes} of ${visit.has} min` : ""}
          />
          <DueLines visit={visit} act={act} first={first} />
          <Flex gap="20px" mt="12px" wrap="wrap">
            <LinkButton disabled={act.busy} onClick={() => act.begin(visit.walk)}>
              {visit.walk_label}, step by step
            </LinkButton>
            <Link to="/care/away" style={{ textDecoration: "underline", fontSize: 14 }}>
              Going away?
            </Link>
            <Link to="/pool/machines" style={{ textDecoration: "underline", fontSize: 14 }}>
              The machines
            </Link>
          </Flex>
          {others.length > 0 && (
            <Box mt="20px">
              <ColumnHead title="At other pools" />
              {others.map((o) => (
                <Flex
                  key={o.pool_id}
                  justify="space-between"
                  borderTop="1px solid"
                  borderColor="hair"
                  py="6px"
                >
                  <LinkButton onClick={() => choose(o.pool_id)}>{o.name}</LinkButton>
                  <Text fontSize="14px">
                    {o.due} {o.due === 1 ? "line" : "lines"}, {o.since}
                  </Text>
                </Flex>
              ))}
            </Box>
          )}
        </Box>
        <Fold
          title={view === "list" ? `All that comes round` : "Six weeks"}
          note={
            <LinkButton onClick={() => setView(view === "list" ? "calendar" : "list")}>
              {view === "list" ? "as a calendar" : "as a list"}
            </LinkButton>
          }
        >
          {view === "list" ? <Tasks care={care.data} poolId={pool.id} /> : <Calendar care={care.data} />}
        </Fold>
        <Fold title="How it is looked after">
          <Settings key={`${pool.id} ${care.data.revision}`} care={care.data} />
        </Fold>
        <Fold title="In a calendar">
          <Feeds key={pool.id} care={care.data} />
        </Fold>
      </Grid>
      {first && (
        <Bar>
          <DueButton line={first} act={act} look="bar" />
        </Bar>
      )}
    </Page>
  );
}
