// The way into cleaning the filter step by step; asks what kind it is where the pool's equipment does not say.
import { Box, chakra, Grid } from "@chakra-ui/react";
import { useRef, useState } from "react";
import { useNavigate } from "react-router";
import { v7 as uuid } from "uuid";

import { type Problem } from "../api/client";
import { useEquipmentKinds } from "../api/meta";
import { type Filter, useBeginFilterGuide } from "../api/sheets";
import { ActButton, Field, LinkButton, Notice, Select } from "./controls";

const ASKED = [
  ["medium", "It filters with"],
  ["valve", "Its valve"],
] as const;

type Props = {
  poolId: string;
  /** Said before the way to the guide is taken. */
  begun?: () => void;
  /** Ask at once for what the equipment does not say. */
  asking?: Problem | null;
};

export function BeginFilter({ poolId, begun, asking }: Props) {
  const begin = useBeginFilterGuide(poolId);
  const go = useNavigate();
  const id = useRef(uuid());
  const [given, setGiven] = useState<Filter>({ medium: "", valve: "" });
  const error = (begin.error ?? asking ?? null) as Problem | null;
  const start = () =>
    void begin.mutateAsync({ id: id.current, ...given }).then(
      (sheet) => {
        begun?.();
        return go(`/do/${sheet.id}`);
      },
      () => undefined, // told below
    );
  const asks = ASKED.some(([name]) => error?.at(name) || given[name]);
  return (
    <Box maxW="420px" className="noprint">
      {asks ? (
        <chakra.form onSubmit={(e) => (e.preventDefault(), start())}>
          <Kind given={given} error={error} set={setGiven} />
          <ActButton type="submit" disabled={begin.isPending} mt="12px">
            Begin
          </ActButton>
        </chakra.form>
      ) : (
        <LinkButton type="button" disabled={begin.isPending} onClick={start}>
          Clean the filter, step by step
        </LinkButton>
      )}
      {error && !ASKED.some(([name]) => error.at(name)) && <Notice>{error.message}</Notice>}
    </Box>
  );
}

type KindProps = { given: Filter; error: Problem | null; set: (given: Filter) => void };

/** What the equipment did not say. */
function Kind({ given, error, set }: KindProps) {
  const kinds = useEquipmentKinds().data;
  const fields = kinds?.find((k) => k.id === "filter")?.fields ?? [];
  return (
    <Grid gap="12px">
      {ASKED.filter(([name]) => error?.at(name) || given[name]).map(([name, label]) => (
        <Field key={name} label={label} error={given[name] ? undefined : error?.at(name)}>
          {(p) => (
            <Select {...p} value={given[name]} onChange={(e) => set({ ...given, [name]: e.target.value })}>
              <option value="">choose</option>
              {(fields.find((f) => f.id === name)?.choices ?? [])
                .filter((c) => c.id !== "none")
                .map((c) => (
                  <option key={c.id} value={c.id}>
                    {c.label}
                  </option>
                ))}
            </Select>
          )}
        </Field>
      ))}
    </Grid>
  );
}
