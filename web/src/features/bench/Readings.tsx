// Readings: one line a measure, typed straight down. Enter goes on, arrows step by the method's resolution.
import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { useEffect, useRef, type KeyboardEvent } from "react";

import type { Schemas } from "../../api/client";
import type { Meta } from "../../api/queries";
import { LinkButton, Select } from "../../ui/controls";
import { ColumnHead } from "../../ui/Page";
import { StateMark } from "../../ui/StateMark";
import { WhyLink } from "../../ui/WhyLink";
import { methodOf, type Draft, type Row } from "./useDraft";

const Reading = chakra("input", {
  base: {
    w: "86px", minH: "44px", bg: "transparent", color: "ink", fontSize: "28px", fontWeight: 700, textAlign: "right", px: "4px",
    borderRadius: "mark", borderBottom: "2px solid transparent", _placeholder: { fontWeight: 400, color: "muted", opacity: 0.75 },
    _invalid: { borderColor: "caution" },
  },
});

type Props = {
  rows: Row[]; draft: Draft; change: (part: Partial<Draft>) => void; meta: Meta; findings: Schemas["FindingView"][];
  problems: Record<string, string>; lastTest: Schemas["EventView"] | null; done: () => void;
};

export function Readings({ rows, draft, change, meta, findings, problems, lastTest, done }: Props) {
  const inputs = useRef<Record<string, HTMLInputElement | null>>({});
  const first = rows[0]!.measure;
  useEffect(() => inputs.current[first]?.focus({ preventScroll: true }), [first]);
  const type = (measure: string, text: string) => change({ texts: { ...draft.texts, [measure]: text } });
  const last = (measure: string) => lastTest?.readings.find((r) => r.measure === measure)?.shown.replace(/ °.$/, "") ?? "";

  const counted = (row: Row) => draft.drops && row.countsDrops(methodOf(draft, row));

  function onKey(event: KeyboardEvent<HTMLInputElement>, index: number, row: Row) {
    if (event.key === "Enter") {
      event.preventDefault();
      const next = rows[index + 1];
      if (next) inputs.current[next.measure]?.focus();
      else done();
    } else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
      const method = meta.methods.find((m) => m.id === methodOf(draft, row));
      if (counted(row)) {
        event.preventDefault();
        const drops = Number(draft.texts[row.measure] || 0) + (event.key === "ArrowUp" ? 1 : -1);
        if (drops >= 0) type(row.measure, String(drops));
        return;
      }
      const measure = meta.measures.find((m) => m.id === row.measure);
      const step = method?.steps[row.measure];
      const from = Number((draft.texts[row.measure] || last(row.measure) || "0").replace(",", ""));
      if (!step || !measure || !Number.isFinite(from)) return;
      event.preventDefault();
      const to = Math.min(measure.most, Math.max(measure.least, from + (event.key === "ArrowUp" ? step : -step)));
      type(row.measure, to.toFixed(measure.decimals));
    }
  }

  return (
    <Box>
      <ColumnHead
        title="Readings"
        note={
          <Select aria-label="Read by" value={draft.kit} onChange={(e) => change({ kit: e.target.value, methods: {} })} fontSize="14px" w="auto" minH={{ base: "44px", md: "32px" }}>
            {meta.methods.filter((m) => m.reads.includes("ph")).map((m) => <option key={m.id} value={m.id}>{m.label}</option>)}
          </Select>
        }
      />
      {rows.map((row, index) => {
        const found = findings.find((f) => f.measure === (row.measure === "tc" ? "cc" : row.measure));
        const typed = !!draft.texts[row.measure]?.trim();
        const problem = problems[row.measure];
        return (
          <Box key={row.measure === "tc" ? "cc" : row.measure} borderBottom="1px solid" borderColor="hair" py="2px">
            <Flex align="center" gap="6px">
              <Box flex={1} minW={0}>
                <chakra.label htmlFor={`reading-${row.measure}`} fontSize="16px" lineHeight="1.15" display="block">{row.short}</chakra.label>
                {(row.measure === "cc" || row.measure === "tc") && (
                  <LinkButton
                    minH="24px" py="0" fontSize="14px" aria-label={draft.combined === "cc" ? "or total chlorine" : "or combined chlorine"}
                    onClick={() => change({ combined: draft.combined === "cc" ? "tc" : "cc", texts: { ...draft.texts, cc: "", tc: "" } })}
                  >
                    {draft.combined === "cc" ? "or total" : "or combined"}
                  </LinkButton>
                )}
              </Box>
              <Reading
                id={`reading-${row.measure}`} ref={(el: HTMLInputElement | null) => { inputs.current[row.measure] = el; }} inputMode="decimal" autoComplete="off"
                value={draft.texts[row.measure] ?? ""} placeholder={counted(row) ? "" : last(row.measure)} aria-invalid={!!problem}
                aria-describedby={problem ? `problem-${row.measure}` : undefined} aria-label={row.label} enterKeyHint="next"
                onChange={(e) => type(row.measure, e.target.value)} onKeyDown={(e) => onKey(e, index, row)}
              />
              <Text fontSize="14px" color="muted" w={counted(row) ? "38px" : "30px"}>{counted(row) ? "drops" : row.unit}</Text>
              <Box w="72px" lineHeight="1.1">{found && (typed || found.from_log) && !problem && <StateMark level={found.level} word={found.word} />}</Box>
            </Flex>
            {problem && <Text id={`problem-${row.measure}`} role="alert" fontSize="14px" fontWeight={700} color="caution" pb="4px">{problem}</Text>}
            {found && !problem && typed && counted(row) && <Text fontSize="14px" color="muted" pb="2px">= {found.text} {found.plus_minus}</Text>}
            {found && !problem && (found.level === "act" || found.level === "watch") && (typed || found.from_log) && (
              <Flex fontSize="14px" color="muted" gap="8px" align="baseline" pb="2px">
                <Text>{counted(row) ? "" : found.plus_minus ? `${found.plus_minus}, ` : ""}{found.band}</Text><WhyLink reasonId={found.reason_id} />
              </Flex>
            )}
            {!typed && found?.from_log && <Text fontSize="14px" color="muted" pb="2px">{found.text} {found.from_log}</Text>}
            {draft.mixed && (
              <Select
                aria-label={`${row.label} read by`} fontSize="14px" minH="36px" mb="4px" value={draft.methods[row.measure] ?? row.defaultMethod(draft.kit)}
                onChange={(e) => change({ methods: { ...draft.methods, [row.measure]: e.target.value } })}
              >
                {meta.methods.filter((m) => m.reads.includes(row.measure)).map((m) => <option key={m.id} value={m.id}>{m.label}</option>)}
              </Select>
            )}
          </Box>
        );
      })}
      <Flex justify="space-between" gap="8px" mt="4px">
        <LinkButton onClick={() => change({ mixed: !draft.mixed, methods: {} })}>{draft.mixed ? "all read by one kit" : "different methods"}</LinkButton>
        {rows.some((row) => row.countsDrops(methodOf(draft, row))) && (
          <LinkButton aria-pressed={draft.drops} onClick={() => change({ drops: !draft.drops, texts: {} })}>{draft.drops ? "type values" : "count drops"}</LinkButton>
        )}
        <LinkButton onClick={() => change({ texts: {}, methods: {}, mixed: false })}>clear</LinkButton>
      </Flex>
    </Box>
  );
}
