// On what terms the plan is made: whose school, what one sees, how long one stays.
import { Box, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import { memo, type ReactNode, useState } from "react";

import { type Meta } from "../../api/meta";
import { type Pool } from "../../api/pools";
import { useKept } from "../../lib/store";
import { WHO } from "../../lib/who";
import { useWide } from "../../lib/wide";
import { Field, Input, LinkButton, Select } from "../../ui/controls";
import { WhyLink } from "../../ui/WhyLink";
import type { Change, Draft } from "./useDraft";

type Props = Pick<
  Draft,
  "school" | "seen" | "stay" | "visits" | "holdDays" | "closedPool" | "samplingPoint"
> & {
  change: Change;
  meta: Meta;
  pool: Pool;
};
const STAYS: [number | null, string][] = [
  [null, "as long as it takes"],
  [15, "15 min"],
  [20, "20 min"],
  [30, "half an hour"],
  [60, "an hour"],
];
const HOLDS: [number, string][] = [
  [0, "today"],
  [3, "three days"],
  [7, "a week"],
];

// The days from now at which a technician comes again; the last begins the same rhythm anew.
const VISITS: [string, string][] = [
  ["7", "weekly"],
  ["3,7", "twice a week"],
  ["2,4,7", "three times a week"],
  ["14", "every two weeks"],
  ["28", "every four weeks"],
];

type TermProps = {
  id: string;
  label: string;
  value: string | number;
  choose: (value: string) => void;
  children: ReactNode;
};

/** A quiet choice in the line above the plan. */
function Term({ id, label, value, choose, children }: TermProps) {
  return (
    <>
      <chakra.label htmlFor={id} color="muted">
        {label}
      </chakra.label>
      <Select
        id={id}
        fontSize="14px"
        w="auto"
        minH={{ base: "44px", md: "32px" }}
        value={value}
        onChange={(e) => choose(e.target.value)}
      >
        {children}
      </Select>
    </>
  );
}

/** Whose school, how long one stays, how long chlorine is to last. */
function Choices({
  school: looked,
  stay,
  visits,
  holdDays,
  closedPool,
  change,
  meta,
  pool,
}: Omit<Props, "seen" | "samplingPoint">) {
  const school = looked ?? pool.school;
  return (
    <>
      <Flex align="center" gap="6px">
        <Term
          id="school"
          label="School"
          value={school}
          choose={(value) => change({ school: value === pool.school ? null : value })}
        >
          {meta.schools.map((s) => (
            <option key={s.id} value={s.id}>
              {s.label}
              {s.id === pool.school ? " (this pool's)" : ""}
            </option>
          ))}
        </Term>
        <WhyLink reasonId={meta.schools.find((s) => s.id === school)?.reason_id ?? "fc_scaled"} />
      </Flex>
      <Flex align="center" gap="6px">
        <Term
          id="stay"
          label="Here for"
          value={stay ?? ""}
          choose={(value) => change({ stay: value === "" ? null : Number(value) })}
        >
          {STAYS.map(([minutes, label]) => (
            <option key={label} value={minutes ?? ""}>
              {label}
            </option>
          ))}
        </Term>
      </Flex>
      {stay !== null && (
        <Flex align="center" gap="6px">
          <Term
            id="visits"
            label="Again"
            value={visits.join()}
            choose={(value) => change({ visits: value.split(",").map(Number) })}
          >
            {VISITS.map(([days, label]) => (
              <option key={days} value={days}>
                {label}
              </option>
            ))}
          </Term>
        </Flex>
      )}
      <Flex align="center" gap="6px">
        <Term
          id="hold"
          label="Chlorine for"
          value={holdDays}
          choose={(value) => change({ holdDays: Number(value) })}
        >
          {HOLDS.map(([days, label]) => (
            <option key={label} value={days}>
              {label}
            </option>
          ))}
        </Term>
      </Flex>
      {holdDays > 0 && (
        <chakra.label display="inline-flex" alignItems="center" gap="8px" minH={{ base: "44px", md: "32px" }}>
          <input
            type="checkbox"
            checked={closedPool}
            onChange={(e) => change({ closedPool: e.target.checked })}
          />
          nobody swims until a reading
        </chakra.label>
      )}
    </>
  );
}

/** The same in one line, for a phone. */
function summary({
  school,
  stay,
  visits,
  holdDays,
  meta,
  pool,
}: Omit<Props, "seen" | "samplingPoint" | "change">) {
  const label = meta.schools.find((s) => s.id === (school ?? pool.school))?.label ?? "";
  const here = stay === null ? "" : `here ${STAYS.find(([m]) => m === stay)?.[1] ?? `${stay} min`}`;
  const again = stay === null ? "" : (VISITS.find(([days]) => days === visits.join())?.[1] ?? "");
  const hold = holdDays
    ? `chlorine for ${HOLDS.find(([d]) => d === holdDays)?.[1] ?? `${holdDays} days`}`
    : "for today";
  return [label, here, again, hold].filter(Boolean).join(", ");
}

export const Terms = memo(function Terms(props: Props) {
  const { seen, samplingPoint, change, meta } = props;
  const wide = useWide();
  const [choosing, setChoosing] = useState(false);
  const [open, setOpen] = useState(seen.length > 0);
  const [saying, setSaying] = useState(samplingPoint !== "");
  const [who, setWho] = useKept<string>(WHO, "");
  const toggle = (id: string) =>
    change({ seen: seen.includes(id) ? seen.filter((s) => s !== id) : [...seen, id] });
  return (
    <Box mb="8px" className="noprint">
      <Flex gap={{ base: "0 20px", md: "8px 20px" }} wrap="wrap" align="center" fontSize="14px">
        {!wide && (
          <LinkButton aria-expanded={choosing} onClick={() => setChoosing(!choosing)}>
            {summary(props)}
          </LinkButton>
        )}
        {(wide || choosing) && <Choices {...props} />}
        <LinkButton aria-expanded={open} onClick={() => setOpen(!open)}>
          {seen.length ? `seen: ${seen.length}` : "what you see"}
        </LinkButton>
        {(wide || choosing || samplingPoint !== "") && (
          <LinkButton aria-expanded={saying} onClick={() => setSaying(!saying)}>
            {[samplingPoint.trim(), who.trim()].filter(Boolean).join(", ") || "where, who"}
          </LinkButton>
        )}
      </Flex>
      {saying && (
        <Grid templateColumns={{ base: "minmax(0,1fr)", md: "1fr 1fr" }} gap="12px" my="8px" maxW="560px">
          <Field label="Sample from">
            {(p) => (
              <Input
                {...p}
                value={samplingPoint}
                maxLength={40}
                placeholder="elbow-deep, away from returns"
                onChange={(e) => change({ samplingPoint: e.target.value })}
              />
            )}
          </Field>
          <Field label="Tested by" hint="Remembered on this device.">
            {(p) => (
              <Input
                {...p}
                value={who}
                maxLength={80}
                placeholder="you"
                onChange={(e) => setWho(e.target.value)}
              />
            )}
          </Field>
        </Grid>
      )}
      {open && (
        <Flex wrap="wrap" gap="0 18px" fontSize="14px" role="group" aria-label="What you see">
          {meta.seen.map((c) => (
            <chakra.label
              key={c.id}
              display="inline-flex"
              alignItems="center"
              gap="8px"
              minH={{ base: "44px", md: "30px" }}
            >
              <input type="checkbox" checked={seen.includes(c.id)} onChange={() => toggle(c.id)} />
              {c.label}
            </chakra.label>
          ))}
        </Flex>
      )}
    </Box>
  );
});

/** What the school looked at would do differently from the pool's own. */
export function Differences({
  lines,
  label,
  caution,
  back,
}: {
  lines: string[];
  label: string;
  caution: string;
  back: () => void;
}) {
  return (
    <Box borderLeft="4px solid" borderColor="ink" pl="12px" mb="12px" fontSize="14px" role="status">
      <Flex gap="12px" align="baseline" wrap="wrap">
        <Text fontWeight={700}>Looked at as {label}</Text>
        <LinkButton onClick={back}>back to this pool's school</LinkButton>
      </Flex>
      {lines.length === 0 && <Text>It says and does the same.</Text>}
      {lines.map((line) => (
        <Text key={line}>{line}</Text>
      ))}
      {caution && <Text color="caution">{caution}</Text>}
    </Box>
  );
}
