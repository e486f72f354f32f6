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
  answers: {},
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
  const verb = asked.aim === "shock" ? "Begin this shock" : "Begin this run";
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
          <You asked={asked} change={change} meta={meta} />
        </Flex>
        {asked.aim === "algae" ? (
          <Bloom asked={asked} change={change} meta={meta} bloom={view?.bloom ?? null} />
        ) : (
          <Shock asked={asked} change={change} view={view} />
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
                disabled={begin.isPending}
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
          <ActButton look="bar" disabled={begin.isPending} onClick={start}>
            {verb}
          </ActButton>
        </Bar>
      )}
    </Page>
  );
}

type Part = { asked: Asked; change: (part: Partial<Asked>) => void };

/** What is done, why, how bad it is, and with which kit and how often one can look. */
function You({ asked, change, meta }: Part & { meta: Meta }) {
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
        ]}
        value={asked.aim}
        pick={(id) => id && change({ aim: id as Asked["aim"], means: "chlorine" })}
        columns
      />
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
        <Pick
          ask="Why?"
          name="cause"
          choices={meta.clear_up.causes}
          value={asked.cause}
          pick={(cause) => cause && change({ cause })}
          columns
        />
      )}
      <Field label="Chlorine is read by">
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
