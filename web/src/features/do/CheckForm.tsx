// A test typed where one stands: the readings this step asks for, kept on the device until they are saved.
import { Box, Flex } from "@chakra-ui/react";
import { useRef } from "react";
import { Link } from "react-router";
import { v7 as uuid } from "uuid";

import { type Problem } from "../../api/client";
import { useSaveTest } from "../../api/log";
import { type Meta } from "../../api/meta";
import { type SheetStep } from "../../api/sheets";
import { useKept } from "../../lib/store";
import { ActButton, Field, Input, Notice, Select } from "../../ui/controls";

type Props = { poolId: string; sheetId: string; step: SheetStep; kit: string; meta: Meta; saved: () => void };
type Draft = { kit: string; texts: Record<string, string> };

export function CheckForm({ poolId, sheetId, step, kit, meta, saved }: Props) {
  const [draft, set] = useKept<Draft>(`kumpan.check.${sheetId}.${step.key}`, { kit, texts: {} });
  const save = useSaveTest(poolId);
  const id = useRef(uuid());
  const asked = step.measures
    .map((m) => meta.measures.find((one) => one.id === m))
    .filter((m): m is Meta["measures"][number] => m !== undefined);
  const kits = meta.methods.filter((m) => m.reads.includes(step.measures[0] ?? "fc"));
  const chosen = kits.some((m) => m.id === draft.kit) ? draft.kit : (kits[0]?.id ?? kit);
  const by = (measure: Meta["measures"][number]) =>
    meta.methods.find((m) => m.id === chosen)?.reads.includes(measure.id) ? chosen : measure.usual_method;
  const readings = asked
    .filter((m) => draft.texts[m.id]?.trim())
    .map((m) => ({
      measure: m.id,
      text: draft.texts[m.id]!.trim(),
      unit: m.unit,
      method: by(m),
      drop_count: null,
    }));
  const error = save.error as Problem | null;
  const told = asked.map((m) => error?.at(`readings.${m.id}`)).filter(Boolean);
  const send = () =>
    void save
      .mutateAsync({
        id: id.current,
        at: new Date().toISOString(),
        local: "",
        performed_by: "",
        sampling_point: "",
        readings,
      })
      .then(
        () => {
          localStorage.removeItem(`kumpan.check.${sheetId}.${step.key}`);
          id.current = uuid();
          saved();
        },
        () => undefined, // told at the field
      );
  return (
    <Box
      as="form"
      bg="paper"
      borderTop={{ base: "2px solid", lg: "none" }}
      borderColor="ink"
      onSubmit={(e) => {
        e.preventDefault();
        if (readings.length > 0) send();
      }}
    >
      <Flex gap="10px" px={{ base: "16px", lg: 0 }} py="10px" wrap="wrap" align="start">
        {asked.map((m, i) => (
          <Box key={m.id} flex="1 1 80px" minW="80px">
            <Field label={m.unit ? `${m.short}, ${m.unit}` : m.short} error={error?.at(`readings.${m.id}`)}>
              {(p) => (
                <Input
                  {...p}
                  aria-label={m.label}
                  autoFocus={i === 0}
                  inputMode="decimal"
                  fontSize="28px"
                  h="56px"
                  value={draft.texts[m.id] ?? ""}
                  onChange={(e) => set({ ...draft, texts: { ...draft.texts, [m.id]: e.target.value } })}
                />
              )}
            </Field>
          </Box>
        ))}
        <Box flex="1 1 130px">
          <Field label="read by">
            {(p) => (
              <Select {...p} h="56px" value={chosen} onChange={(e) => set({ ...draft, kit: e.target.value })}>
                {kits.map((m) => (
                  <option key={m.id} value={m.id}>
                    {m.label}
                  </option>
                ))}
              </Select>
            )}
          </Field>
        </Box>
      </Flex>
      {error && told.length === 0 && <Notice>{error.message}</Notice>}
      <ActButton look="bar" type="submit" disabled={readings.length === 0 || save.isPending}>
        {readings.length > 0
          ? readings
              .map((r) => `${meta.measures.find((m) => m.id === r.measure)?.short} ${r.text}`)
              .join("  ")
          : "Type what you read"}
      </ActButton>
      <Box px={{ base: "16px", lg: 0 }} fontSize="14px" display={{ base: "none", lg: "block" }} mt="8px">
        <Link to="/bench" style={{ textDecoration: "underline" }}>
          more readings, on the Bench
        </Link>
      </Box>
    </Box>
  );
}
