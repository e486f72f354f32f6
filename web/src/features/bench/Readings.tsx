// Readings: one line a measure, typed straight down. Enter goes on, arrows step by the method's resolution.
import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { memo, useCallback, useEffect, useRef, type KeyboardEvent } from "react";

import { type Schemas } from "../../api/client";
import { type Meta } from "../../api/meta";
import { ActButton, LinkButton, Select } from "../../ui/controls";
import { ColumnHead } from "../../ui/Page";
import { StateMark } from "../../ui/StateMark";
import { WhyLink } from "../../ui/WhyLink";
import { methodOf, type Row } from "./rows";
import { type Change, type Draft, emptied } from "./useDraft";

const Reading = chakra("input", {
  base: {
    w: "86px",
    minH: "44px",
    bg: "transparent",
    color: "ink",
    fontSize: "28px",
    fontWeight: 700,
    textAlign: "right",
    px: "4px",
    borderRadius: "mark",
    borderBottom: "2px solid transparent",
    _placeholder: { fontWeight: 400, color: "muted", opacity: 0.75 },
    _invalid: { borderColor: "caution" },
  },
});

type Props = {
  ask: boolean;
  rows: Row[];
  draft: Draft;
  change: Change;
  meta: Meta;
  findings: Schemas["FindingView"][];
  problems: Record<string, string>;
  lastTest: Schemas["LogEntryView"] | null;
  done: () => void;
};

export function Readings({ ask, rows, draft, change, meta, findings, problems, lastTest, done }: Props) {
  const inputs = useRef<Record<string, HTMLInputElement | null>>({});
  const first = rows[0]!.measure;
  useEffect(() => inputs.current[first]?.focus({ preventScroll: true }), [first]);
  const latest = useRef({ rows, done });
  useEffect(() => {
    latest.current = { rows, done };
  });
  // Both stable: a row renders when its own reading, verdict or problem changes.
  const type = useCallback(
    (measure: string, text: string) => change((d) => ({ texts: { ...d.texts, [measure]: text } })),
    [change],
  );
  const goOn = useCallback((measure: string) => {
    const next = latest.current.rows[latest.current.rows.findIndex((r) => r.measure === measure) + 1];
    if (next) inputs.current[next.measure]?.focus();
    else latest.current.done();
  }, []);
  const readBy = useCallback(
    (measure: string, method: string) => change((d) => ({ methods: { ...d.methods, [measure]: method } })),
    [change],
  );
  const keep = useCallback((measure: string, el: HTMLInputElement | null) => {
    inputs.current[measure] = el;
  }, []);
  return (
    <Box>
      <ColumnHead
        title="Readings"
        note={
          <Select
            aria-label="Read by"
            value={draft.kit}
            onChange={(e) => change({ kit: e.target.value, methods: {} })}
            fontSize="14px"
            w="auto"
            minH={{ base: "44px", md: "32px" }}
          >
            {meta.methods
              .filter((m) => m.reads.includes("ph"))
              .map((m) => (
                <option key={m.id} value={m.id}>
                  {m.label}
                </option>
              ))}
          </Select>
        }
      />
      {ask && <WhichKit meta={meta} choose={(kit) => change({ kit, methods: {} })} />}
      {rows.map((row) => (
        <ReadingRow
          key={row.measure === "tc" ? "cc" : row.measure}
          row={row}
          text={draft.texts[row.measure] ?? ""}
          method={methodOf(draft, row)}
          drops={draft.drops && row.countsDrops(methodOf(draft, row))}
          mixed={draft.mixed}
          combined={draft.combined}
          found={findings.find((f) => f.measure === (row.measure === "tc" ? "cc" : row.measure))}
          problem={problems[row.measure]}
          last={lastTest?.readings.find((r) => r.measure === row.measure)?.shown.replace(/ °.$/, "") ?? ""}
          meta={meta}
          change={change}
          type={type}
          goOn={goOn}
          keep={keep}
          readBy={readBy}
        />
      ))}
      <Flex justify="space-between" gap="8px" mt="4px" wrap="wrap">
        <LinkButton onClick={() => change({ mixed: !draft.mixed, methods: {} })}>
          {draft.mixed ? "one method" : "methods"}
        </LinkButton>
        {rows.some((row) => row.countsDrops(methodOf(draft, row))) && (
          <LinkButton aria-pressed={draft.drops} onClick={() => change({ drops: !draft.drops, texts: {} })}>
            {draft.drops ? "type values" : "count drops"}
          </LinkButton>
        )}
        <LinkButton aria-pressed={draft.more} onClick={() => change({ more: !draft.more })}>
          {draft.more ? "fewer readings" : "more readings"}
        </LinkButton>
        <LinkButton onClick={() => change(emptied())}>clear</LinkButton>
      </Flex>
    </Box>
  );
}

/** Asked once on a device, with a pool's first test: what a reading is worth decides how much may be poured on it. */
function WhichKit({ meta, choose }: { meta: Meta; choose: (kit: string) => void }) {
  return (
    <Box
      borderLeft="4px solid"
      borderColor="ink"
      pl="12px"
      mb="12px"
      role="group"
      aria-labelledby="which-kit"
    >
      <Text id="which-kit" fontWeight={700}>
        What do you test with?
      </Text>
      <Text fontSize="14px" color="muted" mb="6px">
        Nothing is poured finer than it can tell. Asked once; change it above at any time.
      </Text>
      <Flex gap="6px" wrap="wrap">
        {meta.methods
          .filter((m) => m.reads.includes("ph"))
          .map((m) => (
            <ActButton key={m.id} look="line" px="10px" fontSize="14px" onClick={() => choose(m.id)}>
              {m.label}
            </ActButton>
          ))}
      </Flex>
    </Box>
  );
}

type RowProps = {
  row: Row;
  text: string;
  method: string;
  drops: boolean;
  mixed: boolean;
  combined: "cc" | "tc";
  found: Schemas["FindingView"] | undefined;
  problem: string | undefined;
  last: string;
  meta: Meta;
  change: Change;
  type: (measure: string, text: string) => void;
  goOn: (measure: string) => void;
  keep: (measure: string, el: HTMLInputElement | null) => void;
  readBy: (measure: string, method: string) => void;
};

const ReadingRow = memo(function ReadingRow({
  row,
  text,
  method,
  drops,
  mixed,
  combined,
  found,
  problem,
  last,
  meta,
  change,
  type,
  goOn,
  keep,
  readBy,
}: RowProps) {
  const { measure } = row;
  const typed = text.trim() !== "";
  const told = found && !problem && (typed || found.from_log) ? found : null;
  function onKey(event: KeyboardEvent<HTMLInputElement>) {
    if (event.key === "Enter") {
      event.preventDefault();
      goOn(measure);
    } else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
      const up = event.key === "ArrowUp";
      if (drops) {
        event.preventDefault();
        const counted = Number(text || 0) + (up ? 1 : -1);
        if (counted >= 0) type(measure, String(counted));
        return;
      }
      const limits = meta.measures.find((m) => m.id === measure);
      const step = meta.methods.find((m) => m.id === method)?.steps[measure];
      const from = Number((text || last || "0").replace(",", ""));
      if (!step || !limits || !Number.isFinite(from)) return;
      event.preventDefault();
      type(
        measure,
        Math.min(limits.most, Math.max(limits.least, from + (up ? step : -step))).toFixed(limits.decimals),
      );
    }
  }
  return (
    <Box borderBottom="1px solid" borderColor="hair" py="2px">
      <Flex align="center" gap="6px">
        <Box flex={1} minW={0}>
          <chakra.label htmlFor={`reading-${measure}`} fontSize="16px" lineHeight="1.15" display="block">
            {row.short}
          </chakra.label>
          {(measure === "cc" || measure === "tc") && (
            <LinkButton
              minH="24px"
              py="0"
              fontSize="14px"
              aria-label={combined === "cc" ? "or total chlorine" : "or combined chlorine"}
              onClick={() => {
                type("cc", "");
                type("tc", "");
                change({ combined: combined === "cc" ? "tc" : "cc" });
              }}
            >
              {combined === "cc" ? "or total" : "or combined"}
            </LinkButton>
          )}
        </Box>
        <Reading
          id={`reading-${measure}`}
          ref={(el: HTMLInputElement | null) => keep(measure, el)}
          inputMode="decimal"
          autoComplete="off"
          value={text}
          placeholder={drops ? "" : last}
          aria-invalid={!!problem}
          aria-describedby={problem ? `problem-${measure}` : undefined}
          aria-label={row.label}
          enterKeyHint="next"
          onChange={(e) => type(measure, e.target.value)}
          onKeyDown={onKey}
        />
        <Text fontSize="14px" color="muted" w={drops ? "38px" : "30px"}>
          {drops ? "drops" : row.unit}
        </Text>
        <Box w="72px" lineHeight="1.1">
          {told && <StateMark level={told.level} word={told.word} />}
        </Box>
      </Flex>
      {problem && (
        <Text
          id={`problem-${measure}`}
          role="alert"
          fontSize="14px"
          fontWeight={700}
          color="caution"
          pb="4px"
        >
          {problem}
        </Text>
      )}
      {told && typed && drops && (
        <Text fontSize="14px" color="muted" pb="2px">
          = {told.text} {told.u95}
        </Text>
      )}
      {told && (told.level === "act" || told.level === "watch") && (
        <Flex fontSize="14px" color="muted" gap="8px" align="baseline" pb="2px">
          <Text>
            {!drops && told.u95 ? `${told.u95}, ` : ""}
            {told.band}
          </Text>
          <WhyLink reasonId={told.reason_id} />
        </Flex>
      )}
      {!typed && found?.from_log && (
        <Text fontSize="14px" color="muted" pb="2px">
          {found.text} {found.from_log}
        </Text>
      )}
      {mixed && (
        <Select
          aria-label={`${row.label} read by`}
          fontSize="14px"
          minH="36px"
          mb="4px"
          value={method}
          onChange={(e) => readBy(measure, e.target.value)}
        >
          {meta.methods
            .filter((m) => m.reads.includes(measure))
            .map((m) => (
              <option key={m.id} value={m.id}>
                {m.label}
              </option>
            ))}
        </Select>
      )}
    </Box>
  );
});
