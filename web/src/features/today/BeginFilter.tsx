// The way into cleaning the filter step by step; asks what kind it is where the pool's equipment does not say.
import { Box, chakra, Grid } from "@chakra-ui/react";
import { useRef, useState } from "react";
import { useNavigate } from "react-router";
import { v7 as uuid } from "uuid";

import { type Problem } from "../../api/client";
import { useEquipmentKinds } from "../../api/meta";
import { useBeginFilterGuide } from "../../api/sheets";
import { ActButton, Field, LinkButton, Notice, Select } from "../../ui/controls";

const ASKED = [
  ["medium", "It filters with"],
  ["valve", "Its valve"],
] as const;

export function BeginFilter({ poolId }: { poolId: string }) {
  const begin = useBeginFilterGuide(poolId);
  const kinds = useEquipmentKinds().data;
  const go = useNavigate();
  const id = useRef(uuid());
  const [given, setGiven] = useState({ medium: "", valve: "" });
  const error = begin.error as Problem | null;
  const start = () =>
    void begin.mutateAsync({ id: id.current, ...given }).then(
      (sheet) => go(`/do/${sheet.id}`),
      () => undefined, // told below
    );
  const missing = ASKED.filter(([name]) => error?.at(name) || given[name]);
  const choices = (name: string) =>
    kinds?.find((k) => k.id === "filter")?.fields.find((f) => f.id === name)?.choices ?? [];
  return (
    <Box mt="16px" ml={{ base: 0, md: "124px" }} maxW="420px" className="noprint">
      {missing.length === 0 ? (
        <LinkButton disabled={begin.isPending} onClick={start}>
          Clean the filter, step by step
        </LinkButton>
      ) : (
        <chakra.form onSubmit={(e) => (e.preventDefault(), start())}>
          <Grid gap="12px">
            {missing.map(([name, label]) => (
              <Field key={name} label={label} error={given[name] ? undefined : error?.at(name)}>
                {(p) => (
                  <Select
                    {...p}
                    value={given[name]}
                    onChange={(e) => setGiven({ ...given, [name]: e.target.value })}
                  >
                    <option value="">choose</option>
                    {choices(name)
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
            <ActButton type="submit" disabled={begin.isPending}>
              Begin
            </ActButton>
          </Grid>
        </chakra.form>
      )}
      {error && !ASKED.some(([name]) => error.at(name)) && <Notice>{error.message}</Notice>}
    </Box>
  );
}
