// Clear-up, before it begins: what it is, treat or drain, by which school, how long, what to buy. Then the run leads.
import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { v7 as uuid } from "uuid";

import { type Asked, useBeginRun, useClearUp } from "../../api/clearup";
import { type Problem } from "../../api/client";
import { type Meta, useMeta } from "../../api/meta";
import { useToday } from "../../api/plans";
import { type Pool } from "../../api/pools";
import { useBeginComplaint } from "../../api/sheets";
import { useKept } from "../../lib/store";
import { Bar } from "../../ui/Bar";
import { ActButton, Field, LinkButton, Notice, Select } from "../../ui/controls";
import { ColumnHead, Page, Waiting } from "../../ui/Page";
import { PoolSwitch, usePool } from "../../ui/PoolSwitch";
import { WhyLink } from "../../ui/WhyLink";
import { Bloom } from "./Bloom";
import { Pick } from "./Pick";
import { TheRun } from "./TheRun";

const NEW: Asked = {
  aim: "algae",
  cause: "routine",
  severity: "",
  looks: 2,
  method: "drops",
  school: "",
  means: "chlorine",
  product_id: "",
  algae_product: "",
  answers: {},
};
const VERBS: Record<Asked["aim"], string> = {
  algae: "Begin this run",
  shock: "Begin this shock",
  demand: "Begin: raise and read",
  incident: "Everyone is out: begin",
};
const LOOKS = [
  { id: "4", label: "Every few hours" },
  { id: "2", label: "Morning and evening" },
  { id: "1", label: "Once a day" },
];

export function ClearUpPage() {
  const { pool, choose, pools } = usePool();
  const meta = useMeta().data;
  if (!pool || !meta) return <Waiting error={pools.error} />;
  return <Asking key={pool.id} pool={pool} pools={pools.data ?? []} choose={choose} meta={meta} />;
}

type Props = { pool: Pool; pools: Pool[]; choose: (id: string) => void; meta: Meta };

function Asking({ pool, pools, choose, meta }: Props) {
  const [asked, set] = useKept<Asked>(`kumpan.clear-up.${pool.id}`, NEW);
  const shown = useClearUp(pool.id, asked);
  const today = useToday(pool.id).data;
  const begin = useBeginRun(pool.id);
  const go = useNavigate();
  const id = useRef(uuid());
  const change = (part: Partial<Asked>) => set({ ...asked, ...part });
  const run = today?.sheets.find((s) => s.kind === "clear_up");
  const view = shown.data;
  const failed = (begin.error ?? shown.error) as Problem | null;
  const open = asked.aim === "algae" && asked.severity === "";
  const start = () =>
    void begin.mutateAsync({ id: id.current, asked }).then(
      (sheet) => {
        set(NEW);
        id.current = uuid();
        return go(`/do/${sheet.id}`);
      },
      () => undefined, // told on the page
    );
  const verb = VERBS[asked.aim];
  const kit = view?.bloom?.kit_refused ?? "";
  return (
    <Page
      above={<PoolSwitch pool={pool} pools={pools} choose={choose} />}
      aside={today?.clock}
      headline={open ? "How bad is it?" : (view?.headline ?? "Working it out …")}
      below={view && <Text>{view.swim}</Text>}
    >
      {run && (
        <Box mb="16px">
          <Notice>A clear-up is under way here.</Notice>
          <ActButton asChild mt="8px">
            <Link to={`/do/${run.id}`}>Go on with it</Link>
          </ActButton>
        </Box>
      )}
      {failed && (
        <Box mb="12px">
          <Notice>{failed.message}</Notice>
        </Box>
      )}
      <Grid
        templateColumns={{ base: "minmax(0,1fr)", lg: "300px minmax(0,1fr) 360px" }}
        gap={{ base: "28px", lg: "32px" }}
      >
        <Flex direction="column" gap="20px">
          <You asked={asked} change={change} meta={meta} kit={kit} />
          <Complaints poolId={pool.id} complaints={meta.complaints} />
        </Flex>
        {asked.aim === "algae" ? (
          <Bloom asked={asked} change={change} meta={meta} bloom={view?.bloom ?? null} />
        ) : asked.aim === "shock" ? (
          <Shock asked={asked} change={change} view={view} />
        ) : asked.aim === "demand" ? (
          <Demand view={view} />
        ) : (
          <Incident view={view} droppings={meta.clear_up.droppings} />
        )}
        <Box>
          {view && <TheRun view={view} asked={asked} change={change} open={open} />}
          {view && !open && !run && (
            <Box mt="16px" display={{ base: "none", md: "block" }}>
              <ActButton
                w="100%"
                minH="56px"
                fontSize="20px"
                bg="act"
                color="onAct"
                borderColor="act"
                disabled={begin.isPending || kit !== ""}
                onClick={start}
              >
                {verb}
              </ActButton>
            </Box>
          )}
        </Box>
      </Grid>
      {view && !open && !run && (
        <Bar>
          <ActButton look="bar" disabled={begin.isPending || kit !== ""} onClick={start}>
            {verb}
          </ActButton>
        </Bar>
      )}
    </Page>
  );
}

/** Another aim, with a cause that is one of its own. */
const of = (aim: Asked["aim"], meta: Meta): Partial<Asked> => ({
  aim,
  means: "chlorine",
  school: "",
  cause:
    {
      algae: "green",
      shock: meta.clear_up.causes[0]?.id,
      incident: meta.clear_up.incidents[0]?.id,
      demand: "",
    }[aim] ?? "",
});

type Part = { asked: Asked; change: (part: Partial<Asked>) => void };

/** What is done, why, how bad it is, and with which kit and how often one can look. */
function You({ asked, change, meta, kit }: Part & { meta: Meta; kit: string }) {
  const kits = meta.methods.filter((m) => m.reads.includes("fc") && m.id !== "lab");
  return (
    <>
      <ColumnHead title="You and the pool" note={<WhyLink reasonId="clear_up" />} />
      <Pick
        ask="What is it about?"
        name="aim"
        choices={[
          { id: "algae", label: "Algae, green or dull water" },
          { id: "shock", label: "A shock, the water is clear" },
          { id: "demand", label: "Clear, but chlorine does not hold" },
          { id: "incident", label: "Stool, vomit or a dead animal in it" },
        ]}
        value={asked.aim}
        pick={(id) => id && change(of(id as Asked["aim"], meta))}
        columns
      />
      {asked.aim === "algae" && (
        <Pick
          ask="Which kind?"
          name="kind"
          choices={meta.clear_up.kinds}
          value={meta.clear_up.kinds.some((k) => k.id === asked.cause) ? asked.cause : "green"}
          pick={(cause) => cause && change({ cause, school: "" })}
        />
      )}
      {asked.aim === "algae" ? (
        <Pick
          ask="How bad is it?"
          name="severity"
          choices={meta.clear_up.severities}
          value={asked.severity}
          pick={(severity) => change({ severity })}
          columns
        />
      ) : (
        asked.aim !== "demand" && (
          <Pick
            ask={asked.aim === "shock" ? "Why?" : "What happened?"}
            name="cause"
            choices={asked.aim === "shock" ? meta.clear_up.causes : meta.clear_up.incidents}
            value={asked.cause}
            pick={(cause) => cause && change({ cause })}
            columns
          />
        )
      )}
      <Field label="Chlorine is read by" error={kit || undefined}>
        {(p) => (
          <Select
            {...p}
            value={asked.method}
            onChange={(e) => change({ method: e.target.value, school: "" })}
          >
            {kits.map((m) => (
              <option key={m.id} value={m.id}>
                {m.label}
              </option>
            ))}
          </Select>
        )}
      </Field>
      {asked.aim === "algae" && (
        <Pick
          ask="How often can somebody look?"
          name="looks"
          choices={LOOKS}
          value={String(asked.looks)}
          pick={(looks) => looks && change({ looks: Number(looks), school: "" })}
        />
      )}
    </>
  );
}

/** What is none of these: short guides to the likely cause. */
function Complaints({ poolId, complaints }: { poolId: string; complaints: Meta["complaints"] }) {
  const begin = useBeginComplaint(poolId);
  const go = useNavigate();
  const ids = useRef<Record<string, string>>({});
  const start = (kind: string) => {
    const id = (ids.current[kind] ??= uuid());
    void begin.mutateAsync({ id, kind }).then(
      (sheet) => {
        delete ids.current[kind];
        return go(`/do/${sheet.id}`);
      },
      () => undefined, // told below
    );
  };
  return (
    <Box>
      <ColumnHead title="None of these?" note={<WhyLink reasonId="complaint" />} />
      <Text fontSize="14px" mb="6px">
        A short guide to the likely cause, by the test that settles it.
      </Text>
      {complaints.map((c) => (
        <Box key={c.id} borderTop="1px solid" borderColor="hair">
          <LinkButton type="button" minH="44px" disabled={begin.isPending} onClick={() => start(c.id)}>
            {c.label}
          </LinkButton>
        </Box>
      ))}
      {begin.error && <Notice>{(begin.error as Problem).message}</Notice>}
    </Box>
  );
}

/** What readings will say of chlorine that does not hold. */
function Demand({ view }: { view: ReturnType<typeof useClearUp>["data"] }) {
  return (
    <Box>
      <ColumnHead title="What the readings will say" note={<WhyLink reasonId="demand" />} />
      {view && <Table rows={view.table} />}
    </Box>
  );
}

function Table({ rows }: { rows: string[][] }) {
  return rows.map(([left, right]) => (
    <Grid
      key={`${left}${right}`}
      templateColumns="minmax(0,1fr) minmax(0,1.2fr)"
      gap="12px"
      borderTop="1px solid"
      borderColor="hair"
      py="8px"
    >
      <Text>{left}</Text>
      <Text fontWeight={700}>{right}</Text>
    </Grid>
  ));
}

/** An incident: the authority's rows, and what no table decides. */
function Incident({ view, droppings }: { view: ReturnType<typeof useClearUp>["data"]; droppings: string }) {
  return (
    <Box>
      <ColumnHead title="The health authority's table" note={<WhyLink reasonId="incident" />} />
      {view && <Table rows={view.table} />}
      <Text mt="12px">
        The time counts between two readings that both bear the row, four hours apart at most. Your health
        authority and local rules come before this; a public pool calls them now.
      </Text>
      <Text fontSize="14px" mt="12px" color="caution">
        {droppings}
      </Text>
    </Box>
  );
}

/** A plain shock's other means. */
function Shock({ asked, change, view }: Part & { view: ReturnType<typeof useClearUp>["data"] }) {
  const [more, setMore] = useState(false);
  const means = view?.means ?? [];
  return (
    <Box>
      <ColumnHead title="By what" />
      <Pick
        ask="Chlorine by hand, at dusk, is the usual way."
        name="means"
        choices={[
          { id: "chlorine", label: "Chlorine by hand" },
          ...means.filter((m) => m.can).map((m) => ({ id: m.means, label: m.label })),
        ]}
        value={asked.means}
        pick={(id) => id && change({ means: id })}
        columns
      />
      {means.map((m) => (
        <Box key={m.means} mt="14px" borderLeft="2px solid" borderColor="hair" pl="12px">
          <Text fontWeight={700}>
            {m.label}
            {m.can ? "" : ": not here"}
          </Text>
          <Text fontSize="14px">{m.why}</Text>
        </Box>
      ))}
      {view && (
        <Box mt="20px">
          <LinkButton aria-expanded={more} onClick={() => setMore(!more)}>
            {more ? "fold" : "before and after it"}
          </LinkButton>
          {more &&
            view.reminders.map((r) => (
              <Text key={r} fontSize="14px" mt="4px">
                {r}
              </Text>
            ))}
        </Box>
      )}
    </Box>
  );
}
