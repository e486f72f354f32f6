// Correcting an entry. What was typed stays when the server says no.
import { zodResolver } from "@hookform/resolvers/zod";
import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { useForm, useWatch } from "react-hook-form";
import { v7 as uuid } from "uuid";
import { z } from "../../lib/zod";

import { Problem } from "../../api/client";
import { type LogEntry, type TestFields, useCorrectTest, useSaveDose } from "../../api/log";
import { type Meta } from "../../api/meta";
import { ActButton, Field, Input, LinkButton, Notice, Select } from "../../ui/controls";

export function Save({ busy, close, error }: { busy: boolean; close: () => void; error: Problem | null }) {
  return (
    <>
      {error && (
        <Box mt="12px">
          <Notice>{error.message}</Notice>
        </Box>
      )}
      <Flex gap="20px" mt="16px" align="center">
        <ActButton type="submit" disabled={busy}>
          Save
        </ActButton>
        <LinkButton type="button" onClick={close}>
          cancel
        </LinkButton>
      </Flex>
    </>
  );
}

export function TestForm({ event, meta, close }: { event: LogEntry; meta: Meta; close: () => void }) {
  const [local, setLocal] = useState(event.local);
  const [performedBy, setPerformedBy] = useState(event.performed_by);
  const [samplingPoint, setSamplingPoint] = useState(event.sampling_point);
  const has = (id: string) => event.readings.some((r) => r.measure === id);
  const shown = meta.measures.filter((m) =>
    m.id === "tc" ? has("tc") : m.id === "cc" ? !has("tc") : !m.extra || has(m.id),
  );
  const [texts, setTexts] = useState<Record<string, string>>(
    Object.fromEntries(event.readings.map((r) => [r.measure, r.text])),
  );
  const kit = event.readings[0]?.method ?? "drops";
  const save = useCorrectTest(event);
  const method = (id: string) => {
    const reads = meta.methods.find((m) => m.id === kit)?.reads.includes(id);
    return reads ? kit : (meta.measures.find((m) => m.id === id)?.usual_method ?? kit);
  };
  const typed = (): TestFields["readings"] =>
    shown
      .filter((m) => (texts[m.id] ?? "").trim())
      .map((m) => {
        const was = event.readings.find((r) => r.measure === m.id);
        return {
          measure: m.id,
          text: texts[m.id]!,
          unit: was?.unit ?? m.unit,
          drop_count: was?.text === texts[m.id] ? was?.drop_count : null,
          method: was?.method ?? method(m.id),
        };
      });
  const onSave = () =>
    save.mutate(
      {
        local,
        performed_by: performedBy.trim() || "you",
        sampling_point: samplingPoint,
        readings: typed(),
      },
      { onSuccess: close },
    );
  const error = save.error as Problem | null;
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        onSave();
      }}
    >
      <Text as="h2" fontSize="20px" fontWeight={700} mb="12px">
        Correct this test
      </Text>
      <Field label="When (the pool's clock)" error={error?.at("local")}>
        {(props) => (
          <Input {...props} type="datetime-local" value={local} onChange={(e) => setLocal(e.target.value)} />
        )}
      </Field>
      <Grid templateColumns="1fr 1fr" gap="12px" mt="12px">
        {shown.map((m) => {
          const unit = event.readings.find((r) => r.measure === m.id)?.unit ?? m.unit;
          return (
            <Field
              key={m.id}
              label={unit ? `${m.label}, ${unit}` : m.label}
              error={error?.at(`readings.${m.id}`)}
            >
              {(props) => (
                <Input
                  {...props}
                  inputMode="decimal"
                  value={texts[m.id] ?? ""}
                  onChange={(e) => setTexts({ ...texts, [m.id]: e.target.value })}
                />
              )}
            </Field>
          );
        })}
      </Grid>
      <Grid templateColumns="1fr 1fr" gap="12px" mt="12px">
        <Field label="Sample from">
          {(props) => (
            <Input
              {...props}
              value={samplingPoint}
              maxLength={40}
              onChange={(e) => setSamplingPoint(e.target.value)}
            />
          )}
        </Field>
        <Field label="Tested by">
          {(props) => (
            <Input
              {...props}
              value={performedBy}
              maxLength={80}
              onChange={(e) => setPerformedBy(e.target.value)}
            />
          )}
        </Field>
      </Grid>
      <Save busy={save.isPending} close={close} error={error} />
    </form>
  );
}

const dose = z.object({
  product_id: z.string().min(1, "Choose what was poured."),
  amount: z.string().trim().min(1, "Type how much was poured."),
  unit: z.string().min(1, "Choose the measure."),
  local: z.string(),
});
type Dose = z.infer<typeof dose>;

/** Correct a dose, or log one that no plan asked for. */
export function DoseForm({
  event,
  poolId,
  meta,
  close,
}: {
  event?: LogEntry;
  poolId: string;
  meta: Meta;
  close: () => void;
}) {
  const [id] = useState(() => uuid());
  const form = useForm<Dose>({
    resolver: zodResolver(dose),
    defaultValues: {
      product_id: event?.product_id ?? "liquid-chlorine-12.5",
      amount: event?.amount_text ?? "",
      unit: event?.unit ?? meta.products.find((p) => p.id === "liquid-chlorine-12.5")!.units[0]!.id,
      local: event?.local ?? "",
    },
  });
  const product_id = useWatch({ control: form.control, name: "product_id" });
  const product = meta.products.find((p) => p.id === product_id);
  const save = useSaveDose(poolId, event, id);
  const onSave = (v: Dose) => {
    const same = v.product_id === event?.product_id;
    save.mutate({ ...v, strength: same ? (event?.strength ?? null) : null }, { onSuccess: close });
  };
  const error = save.error as Problem | null;
  const { errors } = form.formState;
  return (
    <form onSubmit={(e) => void form.handleSubmit(onSave)(e)}>
      <Text as="h2" fontSize="20px" fontWeight={700} mb="12px">
        {event ? "Correct this dose" : "Log a dose"}
      </Text>
      <Field label="Product" error={errors.product_id?.message ?? error?.at("product_id")}>
        {(props) => (
          <Select
            {...props}
            {...form.register("product_id", {
              onChange: (e: { target: { value: string } }) =>
                form.setValue("unit", meta.products.find((p) => p.id === e.target.value)?.units[0]?.id ?? ""),
            })}
          >
            {meta.products.map((p) => (
              <option key={p.id} value={p.id}>
                {p.name}
              </option>
            ))}
          </Select>
        )}
      </Field>
      <Grid templateColumns="1fr 1fr" gap="12px" mt="12px">
        <Field label="Poured" error={errors.amount?.message ?? error?.at("amount")}>
          {(props) => <Input {...props} inputMode="decimal" {...form.register("amount")} />}
        </Field>
        <Field label="Measure" error={errors.unit?.message ?? error?.at("amount_unit")}>
          {(props) => (
            <Select {...props} {...form.register("unit")}>
              {product?.units.map((u) => (
                <option key={u.id} value={u.id}>
                  {u.label}
                </option>
              ))}
            </Select>
          )}
        </Field>
      </Grid>
      <Box mt="12px">
        <Field
          label="When (the pool's clock)"
          error={error?.at("local")}
          hint={event ? undefined : "Empty: now."}
        >
          {(props) => <Input {...props} type="datetime-local" {...form.register("local")} />}
        </Field>
      </Box>
      <Save busy={save.isPending} close={close} error={error} />
    </form>
  );
}
